"""A petal, seen from above: cleft at its tip, veined, paler toward its foot."""

from __future__ import annotations

import numpy as np

from . import StockPicture
from .canvas import finished_picture, plane, smooth_step

LABEL, HELP = "petal", "A blossom's petal. White: the colour row gives it its own."


def draw() -> StockPicture:
    x, y = plane()
    t = np.clip((y + 0.92) / 1.8, 0, 1)  # from its foot to its tip
    half = 0.62 * np.clip(np.sin(np.pi * t**0.72), 0, 1) ** 0.75 + 0.02
    cleft = 0.88 - 0.26 * np.exp(-((x / 0.13) ** 2)) + 0.06 * np.cos(3 * x)
    shape = (
        smooth_step(0.0, 0.02, half - np.abs(x)) * smooth_step(0.0, 0.02, cleft - y) * smooth_step(0.0, 0.02, y + 0.92)
    )
    bend = x / np.maximum(half, 0.05)
    veins = sum(np.exp(-(((bend - k) / 0.035) ** 2)) for k in (-0.62, -0.36, -0.14, 0.1, 0.33, 0.6))
    light = 0.66 + 0.3 * t - 0.1 * veins * (1 - 0.6 * t) - 0.16 * bend**2 + 0.05 * bend
    foot = np.exp(-((t / 0.2) ** 2))
    return StockPicture(
        finished_picture((light, light * (1 - 0.1 * (1 - t)), light * (1 - 0.14 * (1 - t) - 0.2 * foot)), shape)
    )
