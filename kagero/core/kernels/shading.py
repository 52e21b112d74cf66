"""The light that props and bodies stand in: one from above, a rim, and the lamps that particles are."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

NO_LAMPS = np.zeros((0, 7))  # lamps: places in the eye's space, metres, linear colours, and how far each reaches, metres, (L, 7) float64
SHINE = 48.0  # how narrow a gleam is (Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977)


@njit(cache=True, nogil=True, error_model="numpy", inline="always")
def lit(nx, ny, nz, ex, ey, ez, lamps):
    """Return by how much red, green and blue of a surface are lit, how much of the rim is seen, and the gleam, all for a normal and the vector to
    the eye, metres, in the eye's space (x right, y up, z back). A lamp gives its colour times the cosine to it times (1 - d² / reach²)²."""
    size = max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    away = max(math.sqrt(ex * ex + ey * ey + ez * ez), 1e-12)
    facing = (nx * ex + ny * ey + nz * ez) / (size * away)
    side = -1.0 if facing < 0.0 else 1.0
    nx, ny, nz = nx * side / size, ny * side / size, nz * side / size
    key = max((nx * 0.35 + ny * 0.7 + nz * 0.62) / 0.9987, 0.0)
    rim = 0.6 * (1.0 - abs(facing)) ** 3
    hx, hy, hz = 0.35 / 0.9987 + ex / away, 0.7 / 0.9987 + ey / away, 0.62 / 0.9987 + ez / away
    half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
    gleam = max((nx * hx + ny * hy + nz * hz) / half, 0.0) ** SHINE
    red = green = blue = 0.16 + 0.62 * key
    for n in range(lamps.shape[0]):
        dx, dy, dz = lamps[n, 0] + ex, lamps[n, 1] + ey, lamps[n, 2] + ez  # the place is where the vector to the eye begins
        square = dx * dx + dy * dy + dz * dz
        left = 1.0 - square / (lamps[n, 6] * lamps[n, 6])
        if left > 0.0:
            cosine = (nx * dx + ny * dy + nz * dz) / max(math.sqrt(square), 1e-6)
            if cosine > 0.0:
                share = cosine * left * left
                red += lamps[n, 3] * share
                green += lamps[n, 4] * share
                blue += lamps[n, 5] * share
    return red, green, blue, rim, gleam
