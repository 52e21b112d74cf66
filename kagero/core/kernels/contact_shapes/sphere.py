"""A sphere: its numbers are its centre and its radius."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(**_OPTIONS)
def distance(p, x, y, z):
    """Return the distance from the sphere and the direction from its centre (upwards at the centre itself)."""
    away = math.sqrt(x * x + y * y + z * z)
    if away > 1e-12:
        nx, ny, nz = x / away, y / away, z / away
    else:
        nx, ny, nz = 0.0, 1.0, 0.0
    away -= p[3]
    return away, nx, ny, nz


@kernel(**_OPTIONS)
def scale(p, sx, sy, sz):
    """Scale the radius by the mean of the three axes: it stays a sphere."""
    p[3] *= (sx + sy + sz) / 3


def enclosure(p: np.ndarray, largest: float) -> float:
    """Return the radius."""
    return float(p[3] * largest)
