"""A scrap of paper: torn edges, one crease."""

from __future__ import annotations

import numpy as np

from ...kernels.tiling import tiling_noise
from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "scrap", "Torn paper, ash, a fallen leaf once it is coloured."


def draw() -> StockPicture:
    x, y = plane()
    torn = tiling_noise((x + 1) * 3, (y + 1) * 3, 0.3, 6, 5, 0.6, 5)
    fibre = tiling_noise((x + 1) * 10, (y + 1) * 10, 0.7, 20, 4, 0.7, 2)
    edges = [(0.92, 0.15, 0.66), (-0.85, 0.4, 0.6), (0.1, 1.0, 0.5), (-0.25, -0.95, 0.62), (0.7, -0.75, 0.74)]
    inside = np.min([r - (a * x + b * y) for a, b, r in edges], axis=0) + 0.1 * torn
    alpha = smooth_step(0.0, 0.015, inside)
    lip = smooth_step(0.0, 0.02, inside) * (
        1 - smooth_step(0.02, 0.075 + 0.05 * torn, inside)
    )  # the white core shows where it tore
    crease = np.abs(0.5 * x - 0.8 * y + 0.08 + 0.02 * torn)
    lit = np.where(0.5 * x - 0.8 * y + 0.08 > 0, 0.86, 0.7) - 0.2 * np.exp(-((crease / 0.02) ** 2))
    return StockPicture(finished_picture(np.clip(lit + 0.07 * fibre + 0.16 * lip, 0, 1), alpha))
