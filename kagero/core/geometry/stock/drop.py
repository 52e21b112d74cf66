"""A drop of water: dark rim, the sky's light within, and what shines through at its foot."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "drop", "Clear water as a bead: light comes through, its rim is dark."


def draw() -> StockPicture:
    x, y = plane()
    away = np.hypot(x, y) / 0.92
    inside = 1 - smooth_step(0.97, 1.0, away)
    height = np.sqrt(np.clip(1 - away**2, 0, 1))  # of a ball's face: its normal is (x, y, height)
    shine = np.exp(-((((x + 0.34) / 0.2) ** 2) + ((y - 0.4) / 0.13) ** 2) * 2.2)
    through = np.clip(-(0.35 * x + 0.75 * y) / 0.92, 0, 1) ** 2 * height
    rim = (1 - height) ** 2.2
    light = 0.2 + 0.55 * through + 0.95 * shine + 0.12 * rim * (y > 0)
    alpha = inside * np.clip(0.14 + 0.62 * rim + 0.5 * through + 0.95 * shine, 0, 1)
    return StockPicture(finished_picture(light, alpha))
