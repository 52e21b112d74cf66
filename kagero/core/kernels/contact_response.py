"""How a ball leaves what it touched: strewn about where it would bounce, or along with a triangle that it stays on."""

from __future__ import annotations

import math
from typing import Any

from .compiled import kernel

_UNCOUNTED: Any = {"error_model": "numpy", "_nrt": False}


@kernel(_nrt=False)
def _along_with(f, h1, h2, corners, nx, ny, nz, radius):
    """Return where a ball stands at a step's end that stands on a triangle f, at the shares h1 and h2 of its second and third corner, on the side of
    a normal. corners: of the triangles then, (F, 3, 3)."""
    w0 = 1.0 - h1 - h2
    x = w0 * corners[f, 0, 0] + h1 * corners[f, 1, 0] + h2 * corners[f, 2, 0]
    y = w0 * corners[f, 0, 1] + h1 * corners[f, 1, 1] + h2 * corners[f, 2, 1]
    z = w0 * corners[f, 0, 2] + h1 * corners[f, 1, 2] + h2 * corners[f, 2, 2]
    ax, ay, az = (
        corners[f, 1, 0] - corners[f, 0, 0],
        corners[f, 1, 1] - corners[f, 0, 1],
        corners[f, 1, 2] - corners[f, 0, 2],
    )
    bx, by, bz = (
        corners[f, 2, 0] - corners[f, 0, 0],
        corners[f, 2, 1] - corners[f, 0, 1],
        corners[f, 2, 2] - corners[f, 0, 2],
    )
    mx, my, mz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
    lift = math.copysign(radius, mx * nx + my * ny + mz * nz) / max(math.sqrt(mx * mx + my * my + mz * mz), 1e-300)
    return x + mx * lift, y + my * lift, z + mz * lift


@kernel(**_UNCOUNTED)
def _strewn(x, y, z, nx, ny, nz, most, one, other):
    """Return a velocity turned by up to an angle, evenly over the cap round it, and kept off the surface."""
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
