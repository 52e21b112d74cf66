"""Particles as a field of soft balls (Wyvill, McPheeters and Wyvill, "Data structure for soft objects", The Visual
Computer 2, 1986). At distance d each particle adds (1 - d² / s²)³, up to its reach s."""

from __future__ import annotations

import math

import numpy as np

from .compiled import kernel


@kernel("void(float32[:,:,::1], float64[::1], float64, float64[:,::1], float64[::1])")
def add_to_field(field, origin, cell, places, reach):
    """Add particles to a scalar field.

    field: (nx, ny, nz), changed in place; its points lie `cell` metres apart from origin (3,) on. places: (n, 3),
    metres. reach: (n,), metres.
    """
    nx, ny, nz = field.shape
    for n in range(places.shape[0]):
        s = reach[n]
        if not s > 0.0:
            continue
        x = (places[n, 0] - origin[0]) / cell
        y = (places[n, 1] - origin[1]) / cell
        z = (places[n, 2] - origin[2]) / cell
        r = s / cell
        i0, i1 = max(0, math.ceil(x - r)), min(nx - 1, math.floor(x + r))
        j0, j1 = max(0, math.ceil(y - r)), min(ny - 1, math.floor(y + r))
        k0, k1 = max(0, math.ceil(z - r)), min(nz - 1, math.floor(z + r))
        inverse = 1.0 / (r * r)
        for i in range(i0, i1 + 1):
            for j in range(j0, j1 + 1):
                flat = (i - x) * (i - x) + (j - y) * (j - y)
                for k in range(k0, k1 + 1):
                    left = 1.0 - (flat + (k - z) * (k - z)) * inverse
                    if left > 0.0:
                        field[i, j, k] += np.float32(left * left * left)


@kernel(
    "void(float32[:,::1], float64[:,::1], float64[::1], float64[:,::1], int64[::1], int64[::1], float64[::1], "
    "float64, int64[::1], "
    "float32[:,::1], float32[:,::1])",
)
def blend_on_surface(points, places, reach, given, first, order, low, side, folds, normals, out):
    """Write the unit normals of a surface at its points, and the particles' values there, weighted by each particle's
    share of the field.

    points: (V, 3), metres. given: (n, k) values of each particle; out: (V, k); normals: (V, 3). first, order: the
    particles sorted into boxes `side` metres wide from low (3,) on, where `side` is at least the largest reach;
    order[first[b]:first[b + 1]] are those of box b. Space is folded: boxes that are `folds` (3,) apart share a number
    (powers of two, at least 4).
    """
    k = given.shape[1]
    for v in range(points.shape[0]):
        bx, by = math.floor((points[v, 0] - low[0]) / side), math.floor((points[v, 1] - low[1]) / side)
        bz = math.floor((points[v, 2] - low[2]) / side)
        gx, gy, gz, total = 0.0, 0.0, 0.0, 0.0
        for c in range(k):
            out[v, c] = 0.0
        for x in range(bx - 1, bx + 2):
            for y in range(by - 1, by + 2):
                for z in range(bz - 1, bz + 2):
                    box = ((x & (folds[0] - 1)) * folds[1] + (y & (folds[1] - 1))) * folds[2] + (z & (folds[2] - 1))
                    for at in range(first[box], first[box + 1]):
                        n = order[at]
                        dx = points[v, 0] - places[n, 0]
                        dy = points[v, 1] - places[n, 1]
                        dz = points[v, 2] - places[n, 2]
                        s2 = reach[n] * reach[n]
                        left = 1.0 - (dx * dx + dy * dy + dz * dz) / s2 if s2 > 0.0 else 0.0
                        if left <= 0.0:
                            continue
                        w, slope = left * left * left, 6.0 * left * left / s2
                        gx, gy, gz, total = gx + slope * dx, gy + slope * dy, gz + slope * dz, total + w
                        for c in range(k):
                            out[v, c] += np.float32(w * given[n, c])
        size = max(math.sqrt(gx * gx + gy * gy + gz * gz), 1e-30)
        normals[v, 0], normals[v, 1], normals[v, 2] = gx / size, gy / size, gz / size
        if total > 0.0:
            for c in range(k):
                out[v, c] /= np.float32(total)
