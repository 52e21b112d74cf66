"""A glint: light that breaks on a small bright thing, in four unequal rays."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "glint", "Light on water, dew or wings, for an instant."


def draw() -> StockPicture:
    x, y = plane()
    away = np.hypot(x, y)
    ends = 1 - smooth_step(0.55, 1.0, away)

    def ray(across: np.ndarray, along: np.ndarray, wide: float, long: float) -> np.ndarray:
        return (
            np.exp(-np.abs(across) / (wide * (1.02 - np.minimum(np.abs(along) / long, 1)) + 1e-4))
            * np.clip(1 - np.abs(along) / long, 0, 1) ** 1.5
        )

    turn = 0.31
    p, q = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
    rays = ray(p, q, 0.03, 0.98) + 0.8 * ray(q, p, 0.026, 0.66)
    core = np.exp(-((away / 0.075) ** 2)) + 0.16 * np.exp(-((away / 0.25) ** 2))
    return StockPicture(finished_picture(np.ones_like(x), (rays + core) * ends))
