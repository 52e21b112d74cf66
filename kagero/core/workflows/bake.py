"""Frames of a clip into files: particle caches and pictures, with progress, and stopped between frames."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
from PIL import Image

from ..errors import BudgetError, RequestError
from ..formats.exporters import EXPORTERS, About, Exporter, FramePicture
from ..formats.exporters.png import to_png
from ..picture import Viewpoint, check_size
from .play import Playing, never
from .shoot import Wish, take

BLACK = (0.0, 0.0, 0.0)
MAX_PARTICLE_FRAMES = 60_000_000


def bake(playing: Playing, kind: str, first: int, last: int, target: Path, *, size: tuple[int, int] = (1280, 720),
         progress: Callable[[int, int], None] = lambda done, total: None, stopped: Callable[[], None] = never) -> int:  # fmt: skip
    """Write frames first..last to the file `target` in a format of EXPORTERS; return the number of particles written (of pictures: 0).

    The target appears only when complete. progress: called with frames done and in all. stopped: raises Cancelled.
    Raises RequestError (format, span), BudgetError.
    """
    exporter = exporter_of(playing, kind, first, last, size, target.parent)
    part = target.with_name(target.name + ".part")
    part.parent.mkdir(parents=True, exist_ok=True)
    try:
        with part.open("wb") as stream:
            exporter.open(stream)
            total = export(playing, exporter, progress, stopped)
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return total


def exporter_of(playing: Playing, kind: str, first: int, last: int, size: tuple[int, int] = (1280, 720), scratch: Path | None = None) -> Exporter:
    """Return an exporter of frames of a clip, not yet opened. size: of pictures. Raises RequestError (format, span), BudgetError (size)."""
    if kind not in EXPORTERS:
        raise RequestError(f"There is no format {kind!r}.", where="kind", remedy="Choose one of " + ", ".join(EXPORTERS) + ".")
    span(playing, first, last)
    effect, pictures = playing.effect, EXPORTERS[kind].takes == "pictures"
    if pictures:
        check_size(*size)
    emitters = tuple((emitter.uid, emitter.name) for emitter in effect.emitters)
    columns = () if pictures else playing.stored_columns()
    rate = effect.clip.frame_rate
    return EXPORTERS[kind](About(effect.name, first, last, (rate[0], rate[1]), emitters, columns, size if pictures else (0, 0), scratch))


def export(playing: Playing, exporter: Exporter, progress: Callable[[int, int], None] = lambda done, total: None,
           stopped: Callable[[], None] = never) -> int:  # fmt: skip
    """Give the frames of its span to an opened exporter, one after the other; return the number of particles written.

    progress, stopped: as of `bake`. Raises BudgetError.
    """
    about, total = exporter.about, 0
    count = about.last - about.first + 1
    try:
        for done, number in enumerate(range(about.first, about.last + 1)):
            stopped()
            if exporter.takes == "pictures":
                exporter.frame(FramePicture(number, playing.plan.seconds(number), render_frame(playing, number, *about.size, stopped)))
            else:
                particles = playing.particles(number, stopped)
                total += len(particles)
                if total > MAX_PARTICLE_FRAMES:
                    raise BudgetError(
                        f"These frames hold more than {MAX_PARTICLE_FRAMES:,} particles together.", where="frames",
                        remedy="Choose a shorter span, or fewer births.",
                    )  # fmt: skip
                exporter.frame(particles)
            progress(done + 1, count)
        exporter.finish()
    except BaseException:
        exporter.abandon()
        raise
    return total


def span(playing: Playing, first: int, last: int) -> None:
    """Raise RequestError unless first..last are frames of the clip, in order."""
    plan = playing.plan
    if not plan.first_frame <= first <= last <= plan.last_frame:
        raise RequestError(
            f"Frames {first} to {last} are not a span of the clip, which has {plan.first_frame} to {plan.last_frame}.",
            where="frames", remedy="Choose a first frame not after the last, both within the clip.",
        )  # fmt: skip


def render_frame(playing: Playing, number: int, width: int, height: int, stopped: Callable[[], None] = never,
                 ground: Sequence[float] | None = None, viewpoint: Viewpoint | None = None,
                 region: tuple[int, int, int, int] | None = None) -> np.ndarray:  # fmt: skip
    """Return a frame's picture as it will be seen, finished: (height, width, 4) float32, linear, premultiplied. viewpoint: without one, that of
    the effect's
    frame; ground: a colour behind all, over which it is opaque; region: of that picture only columns and rows, (left, top, columns, rows)."""
    behind = None if ground is None else (float(ground[0]), float(ground[1]), float(ground[2]))
    return take(playing, number, Wish(width, height, viewpoint, region, behind, ground is None), stopped).over()


def seen_frame(playing: Playing, number: int, width: int, height: int, stopped: Callable[[], None] = never, viewpoint: Viewpoint | None = None,
               region: tuple[int, int, int, int] | None = None) -> np.ndarray:  # fmt: skip
    """Return a frame's picture as `render_frame`, over what the effect's frame says stands behind all."""
    return take(playing, number, Wish(width, height, viewpoint, region), stopped).over()


def card_pictures(playing: Playing, count: int, width: int, height: int, stopped: Callable[[], None] = never) -> tuple[bytes, list[int]]:
    """Return a PNG strip of `count` pictures side by side over the clip, and how many particles live at each of its frames."""
    plan = playing.plan
    numbers = np.linspace(plan.first_frame, plan.last_frame, count + 1).astype(int)[1:]
    strip = Image.new("RGB", (width * count, height))
    pictured = {int(number): [i for i, n in enumerate(numbers) if n == number] for number in numbers}
    counts = []
    for number in range(plan.first_frame, plan.last_frame + 1):  # each frame while it is at hand
        counts.append(sum(len(frame.population) for frame in playing.frames(number, stopped)))
        for i in pictured.get(number, ()):
            picture = Image.open(io.BytesIO(to_png(seen_frame(playing, number, width, height, stopped), BLACK)))
            strip.paste(picture, (i * width, 0))
    stream = io.BytesIO()
    strip.save(stream, "PNG")
    return stream.getvalue(), counts
