"""A spark: a hot middle in a wide, faint glow."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "spark", "A hot middle in a glow: embers, sparks, lamps far off."


def draw() -> StockPicture:
    x, y = plane()
    away = np.hypot(x, y)
    rim = 1 - smooth_step(0.6, 1.0, away)
    glow = 0.9 * np.exp(-((away / 0.1) ** 2)) + 0.34 * np.exp(-((away / 0.26) ** 2)) + 0.05 / (0.1 + away**2 * 9) * rim
    return StockPicture(finished_picture(np.ones_like(x), glow * rim))
