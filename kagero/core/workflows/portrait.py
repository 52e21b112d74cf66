"""A particle's life in one picture: the mean particle at eleven shares of life, and real ones along the whole of it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from ..geometry.forms import Forms
from ..kernels.colour import linear_to_srgb
from ..kernels.drawing import NONE_OPEN, opened, paint, paint_bodies
from ..kernels.raster import nothing_near
from ..picture import Layer, LookSheets, Viewpoint, bodies_of, items_of
from ..simulation import Look, Population, Shown
from .measure import gather, shuffled

WIDTH, MEAN, CROWD = (
    594,
    40,
    18,
)  # pixels: the axis of life unless said otherwise, the height of the mean particles, that of the real ones
MARGIN = 22  # pixels at both ends, so that whole particles stand at birth and end
SHARES, SAMPLES = 11, 160
GROUND = (0.0103, 0.0152, 0.0203)  # linear light of #1a2127


def life_portrait(
    look: Look,
    frames: list[tuple[float, Population]],
    profile: dict[str, Any],
    width: int = WIDTH,
    drawn: tuple[LookSheets | None, Forms | None] = (None, None),
) -> np.ndarray:
    """Return an RGBA picture, (MEAN + CROWD, width + 2 MARGIN, 4) uint8, drawn by the same kernel as renders.

    frames: (seconds, population) of the clip. profile: `measure.life_profile` of the same frames. drawn: the sheets and forms of its look.
    All sizes are to one scale, so that the largest mean particle just fits; real ones are half as large and stand at their share of life.
    """
    picture = np.zeros((MEAN + CROWD, width + 2 * MARGIN, 4), np.float32)
    lives = profile["lives"]
    gathered = gather(frames)
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


def _mean(shown: Shown, life: np.ndarray, lives: dict[str, Any], at: np.ndarray, between: bool) -> Shown:
    """Return the mean particle at shares of life: the means of the rows it is drawn by, and of all else what the real one nearest in life has."""
    near = np.abs(life[None, :] - at[:, None]).argmin(axis=1)
    columns = {name: values[near] for name, values in shown.columns.items()}
    for name in columns.keys() & {"size", "opacity", "stretch", "hardness"}:
        if f"look.{name}" in lives:
            columns[name] = _course(lives[f"look.{name}"][0], at)
    columns["colour"] = np.stack([_course(part, at) for part in lives["look.colour"]], axis=1)
    columns["rotation"] = np.full(len(at), 0.6)
    if between and "look.added" in lives:
        columns["cover"] = 1 - _course(lives["look.added"][0], at)
    return replace(
        shown,
        population=shown.population.where(near),
        columns={name: np.asarray(v, np.float32) for name, v in columns.items()},
        place=None,
    )


def _extent(shown: Shown, forms: Forms | None) -> float:
    """Return how many metres a particle of a metre's size is long: of bodies that are as large as they were made, the longer ones."""
    if forms is None or shown.look.drawing.get("sized") != "own":
        return 1.0
    return max(float(np.quantile((forms.box[:, 1] - forms.box[:, 0]).max(axis=1), 0.9)), 1e-6)


FAR = 1000.0  # metres; bodies are seen from there, so that they look alike wherever they stand


def _paint(
    picture: np.ndarray,
    shown: Shown,
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
    triangles = opened(items, others, bodies) if len(others) else NONE_OPEN
    order = np.append(np.arange(n), n + np.argsort(-triangles.seen[:, 0], kind="stable"))
    paint(picture, items, order, joined, None, bodies, triangles)


def _course(course: dict[str, list[float]], at: np.ndarray) -> np.ndarray:
    mean = course["mean"]
    return np.interp(at, (np.arange(len(mean)) + 0.5) / len(mean), mean)
