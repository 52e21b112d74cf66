"""Rings on water, seen from above: bright on one side of each crest."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "ripple", "Rings that run out over water, laid flat or facing."


def draw() -> StockPicture:
    x, y = plane()
    away = np.hypot(x, y)
    wave = sum(
        s * np.exp(-(((away - r) / w) ** 2))
        for r, w, s in ((0.86, 0.035, 1.0), (0.7, 0.05, 0.6), (0.5, 0.07, 0.3), (0.27, 0.09, 0.14))
    )
    side = 0.5 + 0.5 * (0.5 * x + 0.86 * y) / np.maximum(away, 1e-3)
    edge = 1 - smooth_step(0.93, 1.0, away)
    return StockPicture(finished_picture(0.5 + 0.5 * side, wave * (0.45 + 0.55 * side) * edge))
