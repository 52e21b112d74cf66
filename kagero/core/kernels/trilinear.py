"""Trilinear interpolation on a grid."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

SLACK = 1e-6  # how far outside, in shares of a cell, still counts as on the side


@kernel()
def trilinear_into(values, index, beyond, out):
    """Write vectors of a grid (Z, Y, X, 3) at positions (n, 3), in grid points along x, y, z. Outside the grid the
    result is zero, or with `beyond` the value at the border. Any handbook of numerical methods."""
    count = (values.shape[2], values.shape[1], values.shape[0])
    at, part = np.empty(3, np.int64), np.empty(3)
    for i in range(index.shape[0]):
        inside = True
        for k in range(3):
            x = index[i, k]
            if not (-SLACK <= x <= count[k] - 1 + SLACK):
                inside = False
            x = min(max(x, 0.0), float(count[k] - 1)) if x == x else 0.0
            at[k] = min(int(x), max(count[k] - 2, 0))
            part[k] = x - at[k] if count[k] > 1 else 0.0
        for c in range(3):
            out[i, c] = 0.0
        if not (inside or beyond):
            continue
        for corner in range(8):
            dx, dy, dz = corner & 1, (corner >> 1) & 1, (corner >> 2) & 1
            weight = (
                (part[0] if dx else 1.0 - part[0])
                * (part[1] if dy else 1.0 - part[1])
                * (part[2] if dz else 1.0 - part[2])
            )
            if weight > 0.0:
                for c in range(3):
                    out[i, c] += weight * values[at[2] + dz, at[1] + dy, at[0] + dx, c]
