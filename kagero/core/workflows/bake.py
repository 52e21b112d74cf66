"""Frames of a clip into files: particle caches and pictures, with progress, and stopped between frames."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import numpy as np
from PIL import Image

from ..errors import BudgetError, RequestError
from ..formats import CsvWriter, FrameParticles, NpzWriter, ply_bytes
from ..picture import render, to_png
from .play import Playing, never

AHEAD = 8  # frames made at once
MAX_PARTICLE_FRAMES = 60_000_000
_OLD = (1980, 1, 1, 0, 0, 0)  # every file in a zip carries the same date, so that equal effects give equal files


@dataclass(frozen=True)
class Format:
    label: str
    suffix: str
    media: str
    help: str


FORMATS: dict[str, Format] = {
    "npz": Format("NPZ", ".npz", "application/zip", "One array a column over all frames, for NumPy."),
    "ply": Format("PLY sequence", ".ply.zip", "application/zip", "A point file a frame, in a zip."),
    "csv": Format("CSV", ".csv", "text/csv", "A line a particle and frame, for any table."),
    "png": Format("PNG sequence", ".png.zip", "application/zip", "Pictures with alpha from the effect's camera, in a zip."),
}


def bake(playing: Playing, kind: str, first: int, last: int, target: Path, *, size: tuple[int, int] = (1280, 720),
         progress: Callable[[int, int], None] = lambda done, total: None, stopped: Callable[[], None] = never) -> int:  # fmt: skip
    """Write frames first..last to the file `target` in a format of FORMATS; return the number of particles written.

    The target appears only when complete. progress: called with frames done and in all. stopped: raises Cancelled.
    Raises RequestError (format, span), BudgetError.
    """
    if kind not in FORMATS:
        raise RequestError(f"There is no format {kind!r}.", where="kind", remedy="Choose one of " + ", ".join(FORMATS) + ".")
    span(playing, first, last)
    part = target.with_name(target.name + ".part")
    part.parent.mkdir(parents=True, exist_ok=True)
    try:
        with part.open("wb") as stream:
            total = _write(playing, kind, range(first, last + 1), stream, size, progress, stopped)
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return total


def span(playing: Playing, first: int, last: int) -> None:
    """Raise RequestError unless first..last are frames of the clip, in order."""
    plan = playing.plan
    if not plan.first_frame <= first <= last <= plan.last_frame:
        raise RequestError(
            f"Frames {first} to {last} are not a span of the clip, which has {plan.first_frame} to {plan.last_frame}.",
            where="frames", remedy="Choose a first frame not after the last, both within the clip.",
        )  # fmt: skip


def render_frame(playing: Playing, number: int, width: int, height: int, stopped: Callable[[], None] = never) -> np.ndarray:
    """Return a frame's picture from the effect's camera: (height, width, 4) float32, linear, premultiplied."""
    return render(playing.visible(playing.show(number, stopped)), playing.viewpoint, width, height, playing.solids(number))


def card_pictures(playing: Playing, count: int, width: int, height: int, stopped: Callable[[], None] = never) -> tuple[bytes, list[int]]:
    """Return a PNG strip of `count` pictures side by side over the clip, and how many particles live at each of its frames."""
    plan = playing.plan
    numbers = np.linspace(plan.first_frame, plan.last_frame, count + 1).astype(int)[1:]
    ground = BACKGROUNDS[playing.effect.clip.background]
    strip = Image.new("RGB", (width * count, height))
    pictured = {int(number): [i for i, n in enumerate(numbers) if n == number] for number in numbers}
    counts = []
    for number in range(plan.first_frame, plan.last_frame + 1):  # each frame while it is at hand
        counts.append(sum(len(frame.population) for frame in playing.frames(number, stopped)))
        for i in pictured.get(number, ()):
            picture = Image.open(io.BytesIO(to_png(render_frame(playing, number, width, height, stopped), ground)))
            strip.paste(picture, (i * width, 0))
    stream = io.BytesIO()
    strip.save(stream, "PNG")
    return stream.getvalue(), counts


# linear light of #0f1418, #767676 (mid grey) and #ece5d8
BACKGROUNDS = {"ink": (0.0048, 0.007, 0.0091), "grey": (0.1812, 0.1812, 0.1812), "paper": (0.8388, 0.7835, 0.6867)}


def _write(playing: Playing, kind: str, numbers: range, stream: IO[bytes], size: tuple[int, int],
           progress: Callable[[int, int], None], stopped: Callable[[], None]) -> int:  # fmt: skip
    uids = [emitter.uid for emitter in playing.effect.emitters]
    total = 0
    playing.ahead = AHEAD

    def frames() -> Iterator[FrameParticles]:
        nonlocal total
        for done, number in enumerate(numbers):
            stopped()
            particles = playing.particles(number, stopped)
            total += len(particles)
            if total > MAX_PARTICLE_FRAMES:
                raise BudgetError(
                    f"These frames hold more than {MAX_PARTICLE_FRAMES:,} particles together.", where="frames",
                    remedy="Choose a shorter span, or fewer births.",
                )  # fmt: skip
            yield particles
            progress(done + 1, len(numbers))

    if kind in ("npz", "csv"):
        writer = NpzWriter(stream, uids) if kind == "npz" else CsvWriter(stream, uids)
        for particles in frames():
            writer.add(particles)
        writer.close()
        return total
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        if kind == "ply":
            for particles in frames():
                archive.writestr(zipfile.ZipInfo(f"{particles.number:06d}.ply", _OLD), ply_bytes(particles), zipfile.ZIP_DEFLATED)
        else:
            for done, number in enumerate(numbers):
                stopped()
                picture = to_png(render_frame(playing, number, *size, stopped))
                archive.writestr(zipfile.ZipInfo(f"{number:06d}.png", _OLD), picture, zipfile.ZIP_STORED)
                progress(done + 1, len(numbers))
    return total
