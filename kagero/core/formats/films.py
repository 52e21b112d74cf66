"""Films in: WebM (VP8, VP9, AV1; with alpha) and MP4 (H.264, H.265, AV1), by FFmpeg. Decoded once whole when brought
in, so that what is kept can be played; from then on picture by picture."""

from __future__ import annotations

import io
from collections.abc import Iterator
from fractions import Fraction
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry import Film, Picture
from .pictures import check_size

MOST_PICTURES = 20_000
_WITH_ALPHA = {"vp8": "libvpx", "vp9": "libvpx-vp9"}  # FFmpeg's own decoders of these leave alpha out
_LINEAR = (
    Picture.from_srgb(np.linspace(0, 1, 256, dtype=np.float32)[None, :, None].repeat(3, axis=2))
    .pixels[0, :, 0]
    .astype(np.float16)
)
_SHARES = np.linspace(0, 1, 256, dtype=np.float32).astype(np.float16)


def is_film(data: bytes) -> bool:
    """Return whether a file holds a film: by how WebM (RFC 8794's header) and MP4 (ISO/IEC 14496-12, a file type box)
    begin."""
    return data[:4] == b"\x1a\x45\xdf\xa3" or data[4:8] == b"ftyp"


def read_film(name: str, data: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return a film as arrays to be stored (see `film_of`) and its facts: width, height, number of pictures and rate.
    Every picture is decoded once. Raises GeometryProblem."""
    import av  # slow to load, and only needed for films

    times: list[int] = []
    keys: list[int] = []
    try:
        opened: Any = av.open(io.BytesIO(data))
        with opened as file:
            if not file.streams.video:
                raise GeometryProblem(f"{name[:80]} holds no pictures.", remedy="Bring in a film with pictures.")
            track = file.streams.video[0]
            width, height = track.codec_context.width, track.codec_context.height
            check_size(name, width, height)
            rate = Fraction(track.average_rate or track.guessed_rate or 25)
            for frame in _frames(file, track):
                if (frame.width, frame.height) != (width, height):
                    raise GeometryProblem(
                        f"The pictures of {name[:80]} change their size.", remedy="Export it at one size."
                    )
                if frame.pts is None or len(times) >= MOST_PICTURES:
                    words = (
                        f"has more than {MOST_PICTURES:,} pictures"
                        if frame.pts is not None
                        else "has pictures without a time"
                    )
                    raise GeometryProblem(f"{name[:80]} {words}.", remedy="Cut it shorter, or export it again.")
                times.append(int(frame.pts))
            file.seek(0)
            keys = [packet.pts for packet in file.demux(track) if packet.is_keyframe and packet.pts is not None]
    except (av.FFmpegError, ValueError, OverflowError) as problem:
        raise GeometryProblem(
            f"{name[:80]} is cut off, damaged, or of a kind that cannot be read.", remedy="Export it as WebM or MP4."
        ) from problem
    if not times or not Fraction(1, 1000) <= rate <= 1000:
        raise GeometryProblem(f"{name[:80]} holds no pictures that can be read.", remedy="Export it as WebM or MP4.")
    rate = rate.limit_denominator(100_000)
    arrays: dict[str, np.ndarray] = {
        "film": np.frombuffer(data, np.uint8),
        "times": np.array(sorted(set(times)), np.int64),
        "keys": np.array(sorted(set(keys)), np.int64),
        "side": np.array([width, height]),
        "rate": np.array([rate.numerator, rate.denominator]),
    }
    return arrays, {
        "kind": "film",
        "width": width,
        "height": height,
        "pictures": len(arrays["times"]),
        "rate": [rate.numerator, rate.denominator],
        "seconds": float(len(arrays["times"]) / rate),
    }


def _frames(file: Any, track: Any) -> Iterator[Any]:
    """Yield a film's pictures from where it stands, with alpha where it has some."""
    codec = _WITH_ALPHA.get(track.codec_context.name) if track.metadata.get("alpha_mode") == "1" else None
    if codec is None:
        track.thread_type = "SLICE"  # those by frames hold some back at a seek
        yield from file.decode(track)
        return
    import av

    decoder: Any = av.CodecContext.create(codec, "r")
    for packet in file.demux(track):
        yield from decoder.decode(packet if packet.size else None)


def film_of(arrays: dict[str, np.ndarray]) -> Film:
    """Return the film that `read_film` stored as arrays."""
    width, height = arrays["side"].tolist()
    return Film(
        (width, height),
        len(arrays["times"]),
        Fraction(*arrays["rate"].tolist()),
        arrays["film"],
        _Decoder(arrays["film"], arrays["times"], arrays["keys"]).picture,
    )


class _Decoder:
    """Decodes pictures by number: onwards from the last one, or from the key picture before."""

    def __init__(self, packed: np.ndarray, times: np.ndarray, keys: np.ndarray):
        self._packed, self._times, self._keys = packed, times, keys
        self._file: Any = None
        self._at = -1  # the number of the last picture that was decoded
        self._left: Iterator[Any] = iter(())

    def picture(self, number: int) -> Picture:
        import av

        wanted = int(self._times[number])
        before = self._keys[self._keys <= wanted]
        key = int(np.searchsorted(self._times, before[-1])) if len(before) else 0
        try:
            if self._file is None or not max(self._at + 1, 0) <= number or key > self._at + 1:
                self._seek(int(self._times[key]))
            for frame in self._left:
                if frame.pts is not None and frame.pts >= wanted:
                    self._at = number
                    return _light(frame)
        except av.FFmpegError as problem:
            self._file = None
            raise GeometryProblem(
                "A film of this effect cannot be read any more.", remedy="Bring it in again."
            ) from problem
        self._file = None
        raise GeometryProblem(
            f"Picture {number + 1} of a film of this effect is not there.", remedy="Bring it in again."
        )

    def _seek(self, time: int) -> None:
        import av

        self._file = av.open(io.BytesIO(self._packed.tobytes()))
        track = self._file.streams.video[0]
        self._file.seek(time, stream=track, backward=True)
        self._left = _frames(self._file, track)


def _light(frame: Any) -> Picture:
    """Return a film's picture in linear light, by sRGB's curve, as for all pictures."""
    pixels = frame.to_ndarray(format="rgba")
    light = np.empty(pixels.shape, np.float16)
    light[..., :3], light[..., 3] = _LINEAR[pixels[..., :3]], _SHARES[pixels[..., 3]]
    return Picture(light)
