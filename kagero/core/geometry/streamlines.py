"""Streamlines of a plane field, evenly spaced.

After Jobard and Lefer, Creating Evenly-Spaced Streamlines of Arbitrary Density (Visualization in Scientific Computing
'97): a new line begins where it is far enough from those there are, and ends where it comes too near one. All seeds are
traced at once, then chosen from.
"""

from __future__ import annotations

import numpy as np
import scipy

from ..kernels.streamlines import trace

STEP = 0.3  # cells that a line goes at once
SEED_SPACING = 0.75  # of the distance between lines: how far from each other places are where one may begin
MIN_SPACING = 0.5  # of the distance between lines: how close one may come to another before it ends
MIN_LENGTH = 0.8  # distances between lines that a line is long at least
MIN_STRENGTH = 1e-3  # of the strongest: where a field is weaker, a line ends


def streamlines(field: np.ndarray, apart: float) -> list[np.ndarray]:
    """Return lines along a field, each (m, 2): column and row, in the field's direction.

    field: (rows, columns, 2), along columns and rows, sampled one a cell and read linearly between; apart: cells
    between lines. Lines go by equal lengths (Runge and Kutta's fourth order) until they leave the field, come to where
    it is faint, turn back, or have closed.
    """
    rows, columns = field.shape[:2]
    strongest = float(np.linalg.norm(field, axis=2).max(initial=0))
    if not strongest > 0 or not np.isfinite(strongest):
        return []
    seeds = _seeds(rows, columns, apart)
    ahead, behind = (_trace(field, seeds, sign, MIN_STRENGTH * strongest) for sign in (1.0, -1.0))
    kept: list[np.ndarray] = []
    for back, forth in zip(behind, ahead, strict=True):
        line, seed = np.concatenate([back[:0:-1], forth]), len(back) - 1
        if kept:
            others = np.concatenate(kept)
            if ((others - line[seed]) ** 2).sum(axis=1).min() < apart**2:
                continue
            taken = np.flatnonzero(
                scipy.spatial.cKDTree(others).query(line, distance_upper_bound=apart)[0] < apart * MIN_SPACING
            )
            line = line[taken[taken < seed].max(initial=-1) + 1 : taken[taken > seed].min(initial=len(line))]
        if (len(line) - 1) * STEP >= MIN_LENGTH * apart:
            kept.append(line)
    return kept


def _seeds(rows: int, columns: int, apart: float) -> np.ndarray:
    """Return where lines may begin, (n, 2), from the middle outwards."""
    x, y = (
        np.arange((size - 1) % (SEED_SPACING * apart) / 2, size - 1 + 1e-9, SEED_SPACING * apart)
        for size in (columns, rows)
    )
    seeds = np.stack([each.ravel() for each in np.meshgrid(x, y)], axis=1)
    middle = np.array([columns - 1, rows - 1]) / 2
    return np.asarray(seeds[np.argsort(np.linalg.norm(seeds - middle, axis=1), kind="stable")])


def _trace(field: np.ndarray, seeds: np.ndarray, sign: float, faint: float) -> list[np.ndarray]:
    """Return the points of a line from each seed on, the seed among them."""
    most = int(3 * max(field.shape[:2]) / STEP)
    course, length = np.empty((len(seeds), most + 1, 2)), np.empty(len(seeds), np.int64)
    trace(np.ascontiguousarray(field, np.float64), seeds, sign, STEP, faint, course, length)
    return [line[:n] for line, n in zip(course, length, strict=True)]
