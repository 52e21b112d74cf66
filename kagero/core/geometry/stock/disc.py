"""A disc as a lens draws a light out of focus: even, a little brighter toward its rim."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "disc of light", "A light out of focus: even, with a brighter rim."


def draw() -> StockPicture:
    x, y = plane()
    away = np.hypot(x, y) / 0.96
    alpha = (1 - smooth_step(0.965, 1.0, away)) * (0.42 + 0.2 * away**3 + 0.4 * np.exp(-(((away - 0.95) / 0.045) ** 2)))
    return StockPicture(finished_picture(np.ones_like(x), alpha))
