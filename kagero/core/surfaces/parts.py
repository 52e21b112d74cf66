"""Particles in groups that are added to a grid within milliseconds, so that unwanted work stops after one of them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..work_limits import spend

AT_ONCE = 4_000_000  # cells that are written before it is asked again whether they are wanted


def in_parts(reach: np.ndarray, count: np.ndarray) -> Iterator[slice]:
    """Yield slices of particles, in order, and announce each one's cost. reach: in cells, (n,). count: cells of the
    grid, (3,)."""
    cells = np.cumsum(np.minimum(2 * reach[:, None] + 1, count).prod(axis=1))
    first = 0
    while first < len(reach):
        before = float(cells[first - 1]) if first else 0.0
        last = max(first + 1, int(np.searchsorted(cells, before + AT_ONCE)))
        spend(float(cells[last - 1]) - before)
        yield slice(first, last)
        first = last
