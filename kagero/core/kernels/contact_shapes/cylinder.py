"""An upright cylinder with its ends: its numbers are its centre, its radius and its height."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(**_OPTIONS)
def distance(p, x, y, z):
    """Return the distance from the cylinder, and the direction away from its nearest point; within, from its side or
    its nearer end, whichever is nearest."""
    r = math.sqrt(x * x + z * z)
    qr, qy, sy = r - p[3], abs(y) - p[4] / 2, math.copysign(1.0, y)
    rx, rz = (x / r, z / r) if r > 1e-12 else (1.0, 0.0)
    o, oy = max(qr, 0.0), max(qy, 0.0)
    out = math.sqrt(o * o + oy * oy)
    if out > 0.0:
        away, nx, ny, nz = out, rx * o / out, sy * oy / out, rz * o / out
    elif qr >= qy:
        away, nx, ny, nz = qr, rx, 0.0, rz
    else:
        away, nx, ny, nz = qy, 0.0, sy, 0.0
    return away, nx, ny, nz


@kernel(**_OPTIONS)
def scale(p, sx, sy, sz):
    """Scale the radius by the mean of both axes across, and the height."""
    p[3] *= (sx + sz) / 2
    p[4] *= sy


def enclosure(p: np.ndarray, largest: float) -> float:
    """Return half the diagonal from the rim of one end to that of the other."""
    return float(np.hypot(p[3], p[4] / 2)) * largest
