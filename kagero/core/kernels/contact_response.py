"""How a ball leaves a contact: scattered about its bounce, or carried along by the triangle it stays on."""

from __future__ import annotations

import math
from typing import Any

from .compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(_nrt=False)
def _place_moved_with_triangle(f, h1, h2, corners, nx, ny, nz, radius):
    """Return the centre of a ball at the step's end that stays on triangle f.

    h1, h2: shares of the second and third corner. nx, ny, nz: the side it is on. corners: of the triangles at the
    step's end, (F, 3, 3).
    """
    w0 = 1.0 - h1 - h2
    x = w0 * corners[f, 0, 0] + h1 * corners[f, 1, 0] + h2 * corners[f, 2, 0]
    y = w0 * corners[f, 0, 1] + h1 * corners[f, 1, 1] + h2 * corners[f, 2, 1]
    z = w0 * corners[f, 0, 2] + h1 * corners[f, 1, 2] + h2 * corners[f, 2, 2]
    ax = corners[f, 1, 0] - corners[f, 0, 0]
    ay = corners[f, 1, 1] - corners[f, 0, 1]
    az = corners[f, 1, 2] - corners[f, 0, 2]
    bx = corners[f, 2, 0] - corners[f, 0, 0]
    by = corners[f, 2, 1] - corners[f, 0, 1]
    bz = corners[f, 2, 2] - corners[f, 0, 2]
    mx, my, mz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
    lift = math.copysign(radius, mx * nx + my * ny + mz * nz) / max(math.sqrt(mx * mx + my * my + mz * mz), 1e-300)
    return x + mx * lift, y + my * lift, z + mz * lift


@kernel(**_OPTIONS)
def _scatter(x, y, z, nx, ny, nz, most, one, other):
    """Return a velocity rotated by up to an angle, uniformly over the cap about it, and kept away from the surface."""
    size = math.sqrt(x * x + y * y + z * z)
    if not size > 0.0:
        return x, y, z
    dx, dy, dz = x / size, y / size, z / size
    cosine = 1.0 - one * (1.0 - math.cos(min(most, math.pi)))
    sine, turn = math.sqrt(max(1.0 - cosine * cosine, 0.0)), 2.0 * math.pi * other
    # a frame about it (Duff et al., "Building an orthonormal basis, revisited", JCGT 6, 2017)
    sign = math.copysign(1.0, dz)
    a = -1.0 / (sign + dz)
    b = dx * dy * a
    p, q = sine * math.cos(turn), sine * math.sin(turn)
    rx = cosine * dx + p * (1.0 + sign * dx * dx * a) + q * b
    ry = cosine * dy + p * (sign * b) + q * (sign + dy * dy * a)
    rz = cosine * dz + p * (-sign * dx) + q * (-dy)
    into = rx * nx + ry * ny + rz * nz
    if into < 0.0:
        rx, ry, rz = rx - 2.0 * into * nx, ry - 2.0 * into * ny, rz - 2.0 * into * nz
    return rx * size, ry * size, rz * size
