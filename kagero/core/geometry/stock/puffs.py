"""A puff of smoke as 8 x 8 pictures of its life, with where everything in each is going until the next.

The smoke is noise carried by a rolling flow: where each place came from is followed back through the flow and the noise
read there, so that detail is stretched and folded, never blurred. It widens, wears thin from its edge inward, and is
shaded by how much of itself lies above.
"""

from __future__ import annotations

import numpy as np
import scipy

from ...kernels.tiling import tiling_noise
from ..picture import Picture
from . import StockPicture
from .canvas import smooth_step

LABEL, HELP = "puffs of smoke", "64 pictures of one puff's life, with motion: few particles look like much smoke."
SIDE, ACROSS = 128, 8
PAGES = ACROSS * ACROSS
REACH = 0.04  # of a cell's width, until the next picture, at full red or green


def draw() -> StockPicture:
    at = (np.arange(SIDE) + 0.5) / SIDE * 2 - 1
    x, y = np.meshgrid(at, -at)
    source = np.stack([x, y])  # where the smoke at each place was at the beginning
    cells, ways = [], []
    for frame in range(PAGES):
        t = frame / (PAGES - 1)
        flow = _flow(x, y, t)
        cells.append(_seen(source, x, y, t))
        ways.append(flow)
        column, row = (x - flow[0] + 1) * SIDE / 2 - 0.5, (1 - (y - flow[1])) * SIDE / 2 - 0.5
        shift = [
            scipy.ndimage.map_coordinates(part - base, [row, column], order=1, mode="nearest")
            for part, base in zip(source, (x, y), strict=True)
        ]
        source = np.stack([x - flow[0] + shift[0], y - flow[1] + shift[1]])
    motion = [
        np.stack(
            [0.5 + offset[0] / 2 / (2 * REACH), 0.5 - offset[1] / 2 / (2 * REACH), np.zeros_like(x), np.ones_like(x)], 2
        )
        for offset in ways
    ]
    return StockPicture(_sheet(cells), ACROSS, ACROSS, _sheet([np.clip(each, 0, 1) for each in motion]), REACH)


def _flow(x: np.ndarray, y: np.ndarray, t: float) -> np.ndarray:
    """Return how far each place goes until the next picture, in half widths of a cell: outward, slower as it ages, and
    rolling."""
    wide = 0.012 * (1 - t) + 0.0025
    out = np.stack([x, y]) * wide
    stream = tiling_noise((x + 1) * 1.6 + 3, (y + 1) * 1.6, 1.3 * t, 64, seed=4).astype(float)
    stream += 0.45 * tiling_noise((x + 1) * 3.4, (y + 1) * 3.4 + 5, 2.1 * t, 64, seed=8)
    down, right = np.gradient(stream, 2 / SIDE)
    roll = np.stack([-down, -right])
    return out + roll * 0.0036 * (1 - 0.6 * t)


def _seen(source: np.ndarray, x: np.ndarray, y: np.ndarray, t: float) -> np.ndarray:
    """Return one picture of the smoke, (SIDE, SIDE, 4): light, and how much is covered. source: (2, SIDE, SIDE), where
    what is at each pixel came from; x, y: the pixels' places, (SIDE, SIDE), -1 to 1; t: the share of its life."""
    a, b = source
    fine = tiling_noise((a + 1) * 3.2, (b + 1) * 3.2, 0.5, 64, 6, 0.56, 3).astype(float)
    billow = np.abs(tiling_noise((a + 1) * 2.3 + 9, (b + 1) * 2.3, 0.2, 64, seed=6)).astype(float)
    away = np.hypot(a, b) / 0.58  # in the smoke's own place, so that its outline is carried along
    body = 1.06 - away**1.5 + 0.95 * fine + 0.55 * (0.35 - billow)
    worn = -0.15 + 0.95 * t**1.2
    thick = np.clip(body - worn, 0, 1.2)
    alpha = (
        smooth_step(0.0, 0.55 + 0.3 * t, thick)
        * (1 - smooth_step(0.72, 0.99, np.hypot(x, y)))
        * (1 - t**2.5)
        * smooth_step(-0.02, 0.05, np.array(t))
    )
    above = np.cumsum(scipy.ndimage.gaussian_filter(thick, 1.5), axis=0) * (2 / SIDE)
    slope = np.gradient(scipy.ndimage.gaussian_filter(thick, 2.0), axis=0) * SIDE / 12
    light = 0.36 + 0.62 * np.exp(-1.9 * above) + 0.12 * np.clip(slope, -1, 1) + 0.1 * fine
    return np.concatenate([np.repeat(np.clip(light, 0.05, 1)[:, :, None], 3, 2), alpha[:, :, None]], 2)


def _sheet(cells: list[np.ndarray]) -> Picture:
    rows = [np.concatenate(cells[i : i + ACROSS], axis=1) for i in range(0, PAGES, ACROSS)]
    return Picture(np.concatenate(rows).astype(np.float32))
