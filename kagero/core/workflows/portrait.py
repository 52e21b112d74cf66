"""A particle's life in one picture: the mean particle at eleven shares of life, and real ones along the whole of it."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..kernels.colour import linear_to_srgb
from ..kernels.splat import splat_discs
from ..simulation import Look, Population
from .measure import gather

WIDTH, MEAN, CROWD = 594, 40, 18  # pixels: the axis of life unless said otherwise, the height of the mean particles, that of the real ones
MARGIN = 22  # pixels at both ends, so that whole particles stand at birth and end
SHARES, SAMPLES = 11, 160
GROUND = (0.0103, 0.0152, 0.0203)  # linear light of #1a2127


def life_portrait(look: Look, frames: list[tuple[float, Population]], profile: dict[str, Any], width: int = WIDTH) -> np.ndarray:
    """Return an RGBA picture, (MEAN + CROWD, width + 2 MARGIN, 4) uint8, drawn by the same kernel as renders.

    frames: (seconds, population) of the clip. profile: `measure.life_profile` of the same frames. All sizes are to one
    scale, so that the largest mean particle just fits; real ones are half as large and stand at their share of life.
    """
    picture = np.zeros((MEAN + CROWD, width + 2 * MARGIN, 4), np.float32)
    lives = profile["lives"]
    gathered = gather(frames)
    if lives and gathered is not None:
        at = np.linspace(0, 1, SHARES)
        courses = {name: lives[f"look.{name}"][0] for name in ("size", "opacity", "stretch", "hardness", "added") if f"look.{name}" in lives}
        sizes, opacity, stretch = (_course(courses[name], at) for name in ("size", "opacity", "stretch"))
        hardness = _course(courses["hardness"], at) if "hardness" in courses else np.zeros(SHARES)
        between = "cover" in look.emitter.given
        cover = 1 - _course(courses["added"], at) if between else np.full(SHARES, next(c.default for c in look.emitter.columns if c.name == "cover"))
        scale = (MEAN / 2 - 1) / max(float(sizes.max()), 1e-9)
        colour = np.stack([_course(part, at) for part in lives["look.colour"]], axis=1)
        _paint(picture, MARGIN + at * width, np.full(SHARES, MEAN / 2), sizes * scale, colour, opacity,
               cover, np.stack([np.maximum(stretch, 1), np.full(SHARES, 0.6), hardness], axis=1))  # fmt: skip
        population, seconds = gathered
        pick = np.argsort(_shuffle(population.key), kind="stable")[:SAMPLES]
        some, when = population.where(pick), seconds[pick]
        shown = look.show(some, when)
        shape = np.stack([shown.column(name) for name in ("stretch", "rotation", "hardness")], axis=1)
        life = np.clip(some.age / some.lifespan, 0, 1)
        height = MEAN + 3 + (CROWD - 6) * (_shuffle(some.key) / 2**32)
        diameter = np.minimum(shown.column("size") * scale * 0.5, CROWD)
        _paint(picture, MARGIN + life * width, height, diameter, shown.column("colour"), shown.column("opacity"), shown.column("cover"), shape)
    flat = picture[..., :3] + np.array(GROUND, np.float32) * (1 - picture[..., 3:])
    result = np.full((*flat.shape[:2], 4), 255, np.uint8)
    result[..., :3] = linear_to_srgb(flat) * 255 + 0.5
    return result


def _paint(picture: np.ndarray, x: np.ndarray, y: np.ndarray, diameter: np.ndarray, colour: np.ndarray, opacity: np.ndarray,
           cover: np.ndarray, shape: np.ndarray) -> None:  # fmt: skip
    x, y, radius, opacity, colour, cover, shape = (np.ascontiguousarray(v, np.float32) for v in (x, y, diameter / 2, opacity, colour, cover, shape))
    splat_discs(picture, x, y, radius, colour, opacity, cover, shape)


def _course(course: dict[str, list[float]], at: np.ndarray) -> np.ndarray:
    mean = course["mean"]
    return np.interp(at, (np.arange(len(mean)) + 0.5) / len(mean), mean)


def _shuffle(keys: np.ndarray) -> np.ndarray:
    """Return numbers from 0 to 2^32 in no order of birth (Knuth's multiplicative hash)."""
    return (keys * np.uint64(2654435761) & np.uint64(0xFFFFFFFF)).astype(np.float64)
