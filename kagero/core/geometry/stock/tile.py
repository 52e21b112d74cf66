"""A tile: a glazed square with rounded corners, lit from above."""

from __future__ import annotations

import numpy as np

from ...kernels.tiling import tiling_noise
from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "tile", "A glazed square: mosaics, roofs, counters."


def draw() -> StockPicture:
    x, y = plane()
    r, half = 0.16, 0.93
    dx, dy = np.maximum(np.abs(x) - (half - r), 0), np.maximum(np.abs(y) - (half - r), 0)
    depth = r - np.hypot(dx, dy) + np.minimum(np.minimum(half - r - np.abs(x), half - r - np.abs(y)), 0) * 0
    inside = np.minimum(depth, np.minimum(half - np.abs(x), half - np.abs(y)))
    bevel = 1 - smooth_step(0.0, 0.11, inside)
    glaze = tiling_noise((x + 1) * 2, (y + 1) * 2, 0.4, 4, 3, 0.5, 9)
    light = 0.66 + 0.06 * glaze + 0.08 * y + bevel * (0.24 * np.sign(y) * (np.abs(y) > np.abs(x)) - 0.08)
    shine = np.exp(-(((x + y * 0.4 + 0.3) / 0.16) ** 2)) * smooth_step(0.05, 0.2, inside) * 0.12
    return StockPicture(finished_picture(np.clip(light + shine, 0, 1), smooth_step(0.0, 0.015, inside)))
