"""Frames of a clip into files: particle caches and pictures, with progress, and cancellable between frames."""

from __future__ import annotations

import io
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from ..errors import BudgetError, RequestError
from ..formats.exporters import EXPORTERS, ExportDetails, Exporter, FramePicture, read_options
from ..formats.exporters.flipbook import SpriteSheet, loop_seam
from ..formats.exporters.png import to_png
from ..picture import Viewpoint, check_size
from .passes import take_passes
from .play import Playing, never_stopped
from .rendering import RenderRequest, in_square_pixels, render_frame

BLACK = (0.0, 0.0, 0.0)
MAX_PARTICLE_FRAMES = 60_000_000


def bake(
    playing: Playing,
    kind: str,
    first: int,
    last: int,
    target: Path,
    *,
    size: tuple[int, int] = (1280, 720),
    options: dict[str, Any] | None = None,
    remarks: list[str] | None = None,
    progress: Callable[[int, int], None] = lambda done, total: None,
    stopped: Callable[[], None] = never_stopped,
) -> int:
    """Write frames first..last to the file `target` in a format of EXPORTERS; return the number of particles written (0
    for pictures).

    The target appears only when complete. options: the format's, and for pictures `camera` and `emitter`. remarks:
    filled with remarks about the result. progress: called with the number of frames done and the total. stopped: raises
    Cancelled. Raises RequestError (format, span), BudgetError.
    """
    exporter = exporter_of(playing, kind, first, last, size, target.parent, options)
    part = target.with_name(target.name + ".part")
    part.parent.mkdir(parents=True, exist_ok=True)
    try:
        with part.open("wb") as stream:
            exporter.open(stream)
            total = export(playing, exporter, progress, stopped)
        if remarks is not None:
            remarks += exporter.remarks()
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return total


def exporter_of(
    playing: Playing,
    kind: str,
    first: int,
    last: int,
    size: tuple[int, int] = (1280, 720),
    scratch: Path | None = None,
    options: dict[str, Any] | None = None,
) -> Exporter:
    """Return an exporter of frames of a clip, not yet opened.

    size: of pictures. options: the format's, and for pictures `camera` (uid) and `emitter` (uid of the only one that is
    shown). Raises RequestError (format, span, options), BudgetError (size).
    """
    if kind not in EXPORTERS:
        raise RequestError(
            f"There is no format {kind!r}.", where="kind", remedy="Choose one of " + ", ".join(EXPORTERS) + "."
        )
    check_span(playing, first, last)
    effect, pictures = playing.effect, EXPORTERS[kind].takes == "pictures"
    if pictures:
        check_size(*size)
    emitters = tuple((emitter.uid, emitter.name) for emitter in effect.emitters)
    rate = effect.clip.frame_rate
    chosen = dict(options or {})
    common: dict[str, str] = (
        {name: str(chosen.pop(name) or "") for name in ("camera", "emitter") if name in chosen} if pictures else {}
    )
    for name, things in (
        ("camera", [prop.uid for prop in effect.props if prop.camera]),
        ("emitter", [each.uid for each in effect.emitters]),
    ):
        if common.get(name) and common[name] not in things:
            raise RequestError(
                f"There is no such {name}.", where=f"options.{name}", remedy="Choose one of the effect's."
            )
    given = read_options(EXPORTERS[kind].options, chosen)
    columns = () if pictures else playing.stored_columns(bool(given.get("simulated")))
    about = ExportDetails(
        effect.name,
        first,
        last,
        (rate[0], rate[1]),
        emitters,
        columns,
        size if pictures else (0, 0),
        scratch,
        given | common,
    )
    exporter = EXPORTERS[kind](about)
    exporter.fits()
    return exporter


def export(
    playing: Playing,
    exporter: Exporter,
    progress: Callable[[int, int], None] = lambda done, total: None,
    stopped: Callable[[], None] = never_stopped,
) -> int:
    """Give an opened exporter the frames of its span in order; return the number of particles written.

    progress, stopped: as in `bake`. Raises BudgetError.
    """
    about, total = exporter.about, 0
    count = about.last - about.first + 1
    try:
        for done, number in enumerate(range(about.first, about.last + 1)):
            stopped()
            if exporter.takes == "pictures":
                exporter.frame(_render_for(playing, number, exporter, stopped))
            else:
                particles = playing.particles(number, stopped, bool(about.options.get("simulated")))
                total += len(particles)
                if total > MAX_PARTICLE_FRAMES:
                    raise BudgetError(
                        f"These frames hold more than {MAX_PARTICLE_FRAMES:,} particles together.",
                        where="frames",
                        remedy="Choose a shorter span, or fewer births.",
                    )
                exporter.frame(particles)
            progress(done + 1, count)
        exporter.finish()
    except BaseException:
        exporter.abandon()
        raise
    return total


def _render_for(playing: Playing, number: int, exporter: Exporter, stopped: Callable[[], None]) -> FramePicture:
    """Return a frame's picture and passes as an exporter needs them."""
    about = exporter.about
    wish = RenderRequest(
        *about.size,
        alone=about.options.get("behind", "nothing") == "nothing",
        camera=about.options.get("camera", ""),
        emitter=about.options.get("emitter", ""),
        squeezed=True,
    )
    passed = take_passes(playing, number, in_square_pixels(playing, wish), exporter.passes(), stopped).of_width(
        about.size[0]
    )
    return FramePicture(
        number,
        playing.plan.seconds(number),
        render_frame(playing, number, wish, stopped).over(),
        passed.arrays,
        passed.names,
    )


@dataclass(frozen=True)
class Estimate:
    """An estimate of an export: number of pictures, bytes, and duration in seconds."""

    pictures: int
    bytes: int
    seconds: float


def estimate(
    playing: Playing, kind: str, first: int, last: int, size: tuple[int, int], options: dict[str, Any] | None = None
) -> Estimate:
    """Return an estimate of a picture export, by rendering and writing its middle frame. Raises as `exporter_of`."""
    middle = (first + last) // 2
    exporter_of(playing, kind, first, last, size, None, options)
    one = exporter_of(playing, kind, middle, middle, size, None, options)
    stream = io.BytesIO()
    one.open(stream)
    playing.frames(middle)
    started = time.perf_counter()
    export(playing, one)
    took = time.perf_counter() - started
    count = (last - first) // one.about.options.get("every", 1) + 1
    return Estimate(count, len(stream.getvalue()) * count, took * count)


MOST_PREVIEWED = 48


def preview_sheet(
    playing: Playing,
    first: int,
    last: int,
    size: tuple[int, int],
    options: dict[str, Any],
    stopped: Callable[[], None] = never_stopped,
) -> tuple[np.ndarray, float, float]:
    """Return the pages of a sprite sheet, (n, height, width, 4) uint8, sRGB with straight alpha; the pages a second;
    and the difference between last and first page, relative to that between consecutive pages. Long sheets are
    subsampled. Raises as `exporter_of`."""
    every = exporter_of(playing, "sheet", first, last, size, None, options).about.options["every"]
    more = max(1, -(-((last - first) // every + 1) // MOST_PREVIEWED))
    exporter = exporter_of(
        playing, "sheet", first, last, size, None, {**options, "every": every * more, "motion": False, "second": "none"}
    )
    assert isinstance(exporter, SpriteSheet)
    exporter.open(io.BytesIO())
    for number in range(first, last + 1, every * more):
        stopped()
        exporter.frame(_render_for(playing, number, exporter, stopped))
    pages = np.stack([page for _, page in exporter.pages])
    return pages, float(playing.plan.frame_rate) / (every * more), loop_seam(list(pages))


def check_span(playing: Playing, first: int, last: int) -> None:
    """Raise RequestError unless first..last are frames of the clip, in order."""
    plan = playing.plan
    if not plan.first_frame <= first <= last <= plan.last_frame:
        raise RequestError(
            f"Frames {first} to {last} are not a span of the clip, which has {plan.first_frame} to {plan.last_frame}.",
            where="frames",
            remedy="Choose a first frame not after the last, both within the clip.",
        )


def render_pixels(
    playing: Playing,
    number: int,
    width: int,
    height: int,
    stopped: Callable[[], None] = never_stopped,
    ground: Sequence[float] | None = None,
    viewpoint: Viewpoint | None = None,
    region: tuple[int, int, int, int] | None = None,
) -> np.ndarray:
    """Return a frame's finished picture, (height, width, 4) float32, linear, premultiplied.

    viewpoint: default is that of the effect's frame. ground: an opaque colour behind everything. region: only these
    columns and rows of the picture, (left, top, columns, rows).
    """
    behind = None if ground is None else (float(ground[0]), float(ground[1]), float(ground[2]))
    return render_frame(
        playing, number, RenderRequest(width, height, viewpoint, region, behind, ground is None), stopped
    ).over()


def frame_over_backplate(
    playing: Playing,
    number: int,
    width: int,
    height: int,
    stopped: Callable[[], None] = never_stopped,
    viewpoint: Viewpoint | None = None,
    region: tuple[int, int, int, int] | None = None,
) -> np.ndarray:
    """Return a frame's picture as `render_frame` gives it, over the backplate of the effect's frame."""
    return render_frame(playing, number, RenderRequest(width, height, viewpoint, region), stopped).over()


def card_pictures(
    playing: Playing, count: int, width: int, height: int, stopped: Callable[[], None] = never_stopped
) -> tuple[bytes, list[int]]:
    """Return a PNG strip of `count` pictures over the clip, side by side, and the number of living particles at each
    frame."""
    plan = playing.plan
    numbers = np.linspace(plan.first_frame, plan.last_frame, count + 1).astype(int)[1:]
    strip = Image.new("RGB", (width * count, height))
    pictured = {int(number): [i for i, n in enumerate(numbers) if n == number] for number in numbers}
    counts = []
    for number in range(plan.first_frame, plan.last_frame + 1):  # each frame while it is at hand
        counts.append(sum(len(frame.population) for frame in playing.frames(number, stopped)))
        for i in pictured.get(number, ()):
            picture = Image.open(
                io.BytesIO(to_png(frame_over_backplate(playing, number, width, height, stopped), BLACK))
            )
            strip.paste(picture, (i * width, 0))
    stream = io.BytesIO()
    strip.save(stream, "PNG")
    return stream.getvalue(), counts
