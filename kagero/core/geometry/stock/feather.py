"""A down feather: a bent shaft with barbs that part here and there."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "feather", "A small feather, its foot below."


def draw() -> StockPicture:
    x, y = plane()
    x = x - 0.16 * np.sin(1.4 * y + 0.5)
    t = np.clip((y + 0.62) / 1.5, 0, 1)
    half = 0.4 * np.clip(np.sin(np.pi * t**0.62), 0, 1) ** 0.8
    # barbs leave the shaft at a slant; where they part, gaps run along them
    along = y - 0.75 * np.abs(x)
    comb = 0.5 + 0.5 * np.sin(95 * along + 1.5 * np.sin(7 * along))
    parted = smooth_step(0.86, 0.99, np.sin(9.5 * along + np.where(x > 0, 1.7, 0.2))) * smooth_step(
        0.08, 0.3, np.abs(x)
    )
    fringe = smooth_step(0.0, 0.09, half * (0.92 + 0.08 * np.sin(41 * along)) - np.abs(x))
    vane = fringe * (0.5 + 0.5 * comb) * (1 - 0.9 * parted) * smooth_step(-0.62, -0.5, y)
    down = np.exp(-((y + 0.6) ** 2) / 0.02) * np.exp(-((x / 0.2) ** 2)) * (0.3 + 0.3 * np.sin(60 * np.abs(x) + 30 * y))
    shaft = (
        smooth_step(0.0, 0.012, 0.016 * (1.15 - t) + 0.004 - np.abs(x))
        * smooth_step(-0.95, -0.93, y)
        * smooth_step(0.0, 0.1, 0.86 - y)
    )
    alpha = np.maximum(np.maximum(vane, shaft), np.clip(down, 0, 1) * 0.7)
    light = 0.72 + 0.2 * comb * vane - 0.25 * shaft + 0.12 * (x > 0) * vane
    return StockPicture(finished_picture(light, alpha))
