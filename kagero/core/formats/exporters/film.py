"""Moving pictures in one file: WebM (VP9, also with alpha), MP4 (AV1), animated WebP. Frame by frame, through FFmpeg's
encoders."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from fractions import Fraction
from typing import IO, Any, ClassVar

import numpy as np

from ...errors import RequestError
from ..encoding import to_bytes
from .apng import LOOPS
from .base import BEHIND, OPAQUE, FileExporter, FramePicture, Option

QUALITY = Option(
    "quality",
    "Quality",
    "How much is kept of fine detail; more is larger.",
    "good",
    (("draft", "draft"), ("good", "good"), ("fine", "fine")),
)


@contextmanager
def one_encoder() -> Iterator[None]:
    """Keep how the threads of this process take turns: SVT-AV1 gives its own, and the one that opens it, real-time
    priority where it may (as root), and all else, also what this process starts later, would wait for them."""
    policy, given = os.sched_getscheduler(0), os.sched_getparam(0)
    try:
        yield
    finally:
        for thread in os.listdir("/proc/self/task"):
            with suppress(OSError):  # it has ended
                if os.sched_getscheduler(int(thread)) != policy:
                    os.sched_setscheduler(int(thread), policy, given)


class Film(FileExporter):
    """A film. container, codec: FFmpeg's names; with_alpha, without: formats of its pixels; sides: fewest and most
    pixels of a side."""

    takes = "pictures"
    container: ClassVar[str]
    codec: ClassVar[str]
    with_alpha: ClassVar[str] = ""
    without: ClassVar[str]
    even: ClassVar[bool] = True
    sides: ClassVar[tuple[int, int]] = (1, 16_384)
    file: Any
    track: Any

    @property
    def alpha(self) -> bool:
        return bool(self.with_alpha) and self.about.options["behind"] == "nothing"

    def fits(self) -> None:
        width, height = self.about.size
        if self.even and (width % 2 or height % 2):
            raise RequestError(
                f"{self.label} needs an even width and height, and these are {width} and {height}.",
                where="size",
                remedy="Make it a pixel larger or smaller.",
            )
        least, most = self.sides
        if not (least <= min(width, height) and max(width, height) <= most):
            raise RequestError(
                f"{self.label} takes {least:,} to {most:,} pixels a side, and these are {width:,} and {height:,}.",
                where="size",
                remedy="Make it larger or smaller, or choose another format.",
            )

    def settings(self) -> dict[str, str]:
        """Return the encoder's options."""
        return {}

    def container_options(self) -> dict[str, str]:
        return {}

    def open(self, stream: IO[bytes]) -> None:
        import av  # slow to load, and only needed here

        super().open(stream)
        rate = Fraction(*self.about.frame_rate)
        self.file = av.open(stream, "w", format=self.container, options=self.container_options())
        self.track = self.file.add_stream(self.codec, rate=rate, options=self.settings())
        self.track.width, self.track.height = self.about.size
        self.track.pix_fmt = self.with_alpha if self.alpha else self.without
        context = self.track.codec_context
        context.time_base = 1 / rate
        if "yuv" in self.track.pix_fmt:  # ITU-T H.273: BT.709's primaries and matrix, sRGB's curve, studio range
            context.color_primaries, context.color_trc, context.colorspace, context.color_range = 1, 13, 1, 1
        self.file.metadata["title"] = self.about.effect
        self.file.metadata["comment"] = self.colour_of()
        self.done = 0

    def colour_of(self) -> str:
        """Return what its numbers are, in words."""
        return "sRGB, straight alpha" if self.alpha else "sRGB"

    def frame(self, frame: FramePicture) -> None:
        import av

        pixels = np.ascontiguousarray(to_bytes(frame.pixels))
        frame_of_film: Any = av.VideoFrame.from_ndarray(pixels, format="rgba")
        if "yuv" in self.track.pix_fmt:
            frame_of_film = frame_of_film.reformat(
                format=self.track.pix_fmt, src_color_range=2, dst_color_range=1, src_colorspace=1, dst_colorspace=1
            )
        elif frame_of_film.format.name != self.track.pix_fmt:
            frame_of_film = frame_of_film.reformat(format=self.track.pix_fmt)
        frame_of_film.pts, frame_of_film.time_base = self.done, 1 / Fraction(*self.about.frame_rate)
        self.done += 1
        with one_encoder():
            packets = self.track.encode(frame_of_film)
        for packet in packets:
            self.file.mux(packet)

    def finish(self) -> None:
        for packet in self.track.encode(None):
            self.file.mux(packet)
        self.file.close()

    def abandon(self) -> None:
        import av

        with suppress(av.FFmpegError, ValueError):
            self.file.close()


class WebM(Film):
    """VP9 in WebM, also with alpha."""

    kind, label, suffix, media = "webm", "WebM film", ".webm", "video/webm"
    help = "VP9, also with alpha: plays in browsers, games and editors."
    container, codec, with_alpha, without = "webm", "libvpx-vp9", "yuva420p", "yuv420p"
    options = (BEHIND, QUALITY)

    def settings(self) -> dict[str, str]:
        return {
            "crf": {"draft": "40", "good": "24", "fine": "12"}[self.about.options["quality"]],
            "b": "0",
            "row-mt": "1",
            "deadline": "good",
            "cpu-used": "4",
            "auto-alt-ref": "0",
        }


class Mp4(Film):
    """AV1 in MP4, over what stands behind all."""

    kind, label, suffix, media = "mp4", "MP4 film", ".mp4", "video/mp4"
    help = "AV1, over what stands behind all: small, for looking at."
    container, codec, without = "mp4", "libsvtav1", "yuv420p"
    sides = (64, 8192)  # SVT-AV1's: with a side of 2 it does not begin, and with one of 16 beside 4096 it never ends
    options = (OPAQUE, QUALITY)

    def open(self, stream: IO[bytes]) -> None:
        os.environ.setdefault("SVT_LOG", "1")  # the encoder says much where nobody listens
        super().open(stream)

    def settings(self) -> dict[str, str]:
        return {"crf": {"draft": "45", "good": "30", "fine": "16"}[self.about.options["quality"]], "preset": "9"}


class AnimatedWebP(Film):
    """WebP with several frames, with alpha."""

    kind, label, suffix, media = "webp", "Animated WebP", ".webp", "image/webp"
    help = "With alpha, small: for pages and chats."
    container, codec, with_alpha, without, even, sides = "webp", "libwebp_anim", "bgra", "bgra", False, (1, 16_383)
    options = (BEHIND, QUALITY, LOOPS)

    def container_options(self) -> dict[str, str]:
        return {"loop": str(self.about.options["loops"])}

    def settings(self) -> dict[str, str]:
        quality = {"draft": "60", "good": "85", "fine": "100"}[self.about.options["quality"]]
        return {"quality": quality, "lossless": "1" if quality == "100" else "0"}
