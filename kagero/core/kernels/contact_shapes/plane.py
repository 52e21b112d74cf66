"""A plane: its numbers are a point on it and its normal, of any length (none: upwards)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(**_OPTIONS)
def distance(p, x, y, z):
    """Return the height of a point over the plane and the plane's normal."""
    nx, ny, nz = p[3], p[4], p[5]
    size = math.sqrt(nx * nx + ny * ny + nz * nz)
    if size > 0.0:
        nx, ny, nz = nx / size, ny / size, nz / size
    else:
        nx, ny, nz = 0.0, 1.0, 0.0
    return x * nx + y * ny + z * nz, nx, ny, nz


@kernel(**_OPTIONS)
def scale(p, sx, sy, sz):
    """A plane without end is as large as before."""


def enclosure(p: np.ndarray, largest: float) -> np.ndarray:
    """Return the plane's normal: it is its own border."""
    size = float(np.linalg.norm(p[3:6]))
    return p[3:6] / size if size > 0 else np.array([0.0, 1.0, 0.0])
