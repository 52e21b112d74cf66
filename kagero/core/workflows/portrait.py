"""A particle's life in one picture: the mean particle at eleven shares of life, and real ones along all of it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from ..geometry.forms import Forms
from ..kernels.colour import linear_to_srgb
from ..kernels.drawing import NO_BODY_TRIANGLES, paint, paint_bodies, triangles_of_bodies
from ..kernels.raster import nothing_near
from ..picture import Layer, LookSheets, Viewpoint, bodies_of, items_of
from ..simulation import LookEvaluator, Population, ShownParticles
from .measure import gather_frames, shuffled

# pixels: the axis of life unless said otherwise, the height of the mean particles, that of the real ones
WIDTH = 594
MEAN = 40
CROWD = 18
MARGIN = 22  # pixels at both ends, so that whole particles stand at birth and end
SHARES, SAMPLES = 11, 160
GROUND = (0.0103, 0.0152, 0.0203)  # linear light of #1a2127


def life_portrait(
    look: LookEvaluator,
    frames: list[tuple[float, Population]],
    profile: dict[str, Any],
    width: int = WIDTH,
    drawn: tuple[LookSheets | None, Forms | None] = (None, None),
) -> np.ndarray:
    """Return an RGBA picture, (MEAN + CROWD, width + 2 MARGIN, 4) uint8, drawn by the renderer's kernel.

    frames: (seconds, population) of the clip. profile: `measure.life_profile` of the same frames. drawn: sheets and
    forms of the look. All sizes are to one scale at which the largest mean particle just fits; real particles are half
    as large and stand at their share of life.
    """
    picture = np.zeros((MEAN + CROWD, width + 2 * MARGIN, 4), np.float32)
    lives = profile["lives"]
    gathered = gather_frames(frames)
    if lives and gathered is not None:
        at = np.linspace(0, 1, SHARES)
        population, seconds = gathered
        pick = np.argsort(shuffled(population.key), kind="stable")[:SAMPLES]
        some, when = population.where(pick), seconds[pick]
        shown = look.show(some, when)
        life = np.clip(some.age / some.lifespan, 0, 1)
        mean = _mean(shown, life, lives, at, "cover" in look.look.given)
        extent = _extent(shown, drawn[1])
        scale = (MEAN / 2 - 1) * 2 / max(float(mean.columns["size"].max()) * extent, 1e-9)
        _paint(picture, mean, drawn, MARGIN + at * width, np.full(SHARES, MEAN / 2), scale)
        height = MEAN + 3 + (CROWD - 6) * (shuffled(some.key) / 2**32)
        small = np.minimum(shown.column("size"), CROWD / (scale * 0.5 * extent))
        _paint(
            picture,
            replace(shown, columns={**shown.columns, "size": small}),
            drawn,
            MARGIN + life * width,
            height,
            scale * 0.5,
        )
    flat = picture[..., :3] + np.array(GROUND, np.float32) * (1 - picture[..., 3:])
    result = np.full((*flat.shape[:2], 4), 255, np.uint8)
    result[..., :3] = linear_to_srgb(flat) * 255 + 0.5
    return result


def _mean(
    shown: ShownParticles, life: np.ndarray, lives: dict[str, Any], at: np.ndarray, between: bool
) -> ShownParticles:
    """Return the mean particle at shares of life: the means of the rows it is drawn by, and everything else from the
    real particle nearest in life."""
    near = np.abs(life[None, :] - at[:, None]).argmin(axis=1)
    columns = {name: values[near] for name, values in shown.columns.items()}
    for name in columns.keys() & {"size", "opacity", "stretch", "hardness"}:
        if f"look.{name}" in lives:
            columns[name] = _rows_at(lives[f"look.{name}"][0], at)
    columns["colour"] = np.stack([_rows_at(part, at) for part in lives["look.colour"]], axis=1)
    columns["rotation"] = np.full(len(at), 0.6)
    if between and "look.added" in lives:
        columns["cover"] = 1 - _rows_at(lives["look.added"][0], at)
    return replace(
        shown,
        population=shown.population.where(near),
        columns={name: np.asarray(v, np.float32) for name, v in columns.items()},
        place=None,
    )


def _extent(shown: ShownParticles, forms: Forms | None) -> float:
    """Return the length in metres of a particle of size one metre; of forms in their original size, the longest."""
    if forms is None or shown.look.drawing.get("sized") != "own":
        return 1.0
    return max(float(np.quantile((forms.box[:, 1] - forms.box[:, 0]).max(axis=1), 0.9)), 1e-6)


FAR = 1000.0  # metres; bodies are seen from there, so that they look alike wherever they stand


def _paint(
    picture: np.ndarray,
    shown: ShownParticles,
    drawn: tuple[LookSheets | None, Forms | None],
    x: np.ndarray,
    y: np.ndarray,
    scale: float,
) -> None:
    n, (height, width) = len(shown), picture.shape[:2]
    places = np.stack([(x - width / 2) / scale, (height / 2 - y) / scale, np.zeros(n)], axis=1)
    layer = [Layer(replace(shown, place=places), drawn[0], forms=drawn[1])]
    items, joined = items_of(layer, x, y, np.ones(n), np.full(n, scale))
    bodies, hiding, others = bodies_of(
        layer, Viewpoint((0.0, 0.0, FAR), (0.0, 0.0, 0.0), 1.0), (scale * FAR, width / 2, height / 2)
    )
    paint_bodies(picture, nothing_near(height, width), items, hiding, bodies, joined)
    triangles = triangles_of_bodies(items, others, bodies) if len(others) else NO_BODY_TRIANGLES
    order = np.append(np.arange(n), n + np.argsort(-triangles.seen[:, 0], kind="stable"))
    paint(picture, items, order, joined, None, bodies, triangles)


def _rows_at(course: dict[str, list[float]], at: np.ndarray) -> np.ndarray:
    mean = course["mean"]
    return np.interp(at, (np.arange(len(mean)) + 0.5) / len(mean), mean)
