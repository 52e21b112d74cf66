"""A box along its space's axes: its numbers are its centre and its size."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(**_OPTIONS)
def distance(p, x, y, z):
    """Return the distance from the box, and the direction away from its nearest point; within, from its nearest
    side."""
    qx, qy, qz = abs(x) - p[3] / 2, abs(y) - p[4] / 2, abs(z) - p[5] / 2
    sx, sy, sz = math.copysign(1.0, x), math.copysign(1.0, y), math.copysign(1.0, z)
    ox, oy, oz = max(qx, 0.0), max(qy, 0.0), max(qz, 0.0)
    out = math.sqrt(ox * ox + oy * oy + oz * oz)
    if out > 0.0:
        away, nx, ny, nz = out, sx * ox / out, sy * oy / out, sz * oz / out
    elif qx >= qy and qx >= qz:
        away, nx, ny, nz = qx, sx, 0.0, 0.0
    elif qy >= qz:
        away, nx, ny, nz = qy, 0.0, sy, 0.0
    else:
        away, nx, ny, nz = qz, 0.0, 0.0, sz
    return away, nx, ny, nz


@kernel(**_OPTIONS)
def scale(p, sx, sy, sz):
    """Scale each side along its axis."""
    p[3] *= sx
    p[4] *= sy
    p[5] *= sz


def enclosure(p: np.ndarray, largest: float) -> float:
    """Return half the diagonal."""
    return float(np.linalg.norm(p[3:6])) / 2 * largest
