"""Positions and frames at (u, v) on triangles, for rides on surfaces."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

INSIDE = -1e-9  # how far outside a triangle of (u, v), in shares of it, still counts as within


@kernel()
def locate(u, v, low_u, low_v, wide, high, across, up, start, items, flat, face, b1, b2):
    """Write the triangle at each (u, v) and the shares of its second and third corner, (n,) each; -1 where there is
    none.

    The triangles' (u, v) are sorted into a grid of across x up cells, wide x high each, from (low_u, low_v) on:
    items[start[c]:start[c + 1]] are the triangles that reach into cell c, ascending; start: (across * up + 1,). flat:
    (F, 6), each triangle's (u, v) at its first corner and the inverse of its two sides. Among several triangles the
    first is taken.
    """
    for i in range(u.size):
        face[i] = -1
        ci = min(max(int((u[i] - low_u) / wide), 0), across - 1)
        cj = min(max(int((v[i] - low_v) / high), 0), up - 1)
        cell = cj * across + ci
        for k in range(start[cell], start[cell + 1]):
            f = items[k]
            x, y = u[i] - flat[f, 0], v[i] - flat[f, 1]
            p, q = flat[f, 2] * x + flat[f, 3] * y, flat[f, 4] * x + flat[f, 5] * y
            if p >= INSIDE and q >= INSIDE and p + q <= 1.0 - INSIDE:
                face[i], b1[i], b2[i] = f, p, q
                break


@kernel(writes="place facing")
def frames_at(face, b1, b2, aside, corners, flat, faces, normals, matrix, inverse, place, facing):
    """Write world positions offset from triangles, and unit normals there, (n, 3) each.

    face (n,), b1, b2: triangle and shares of its second and third corner. aside: offset along the normal, along growing
    u and along growing v, metres, (n, 3). corners: of the triangles now, (F, 3, 3). normals: smooth normals of the
    points now, (V, 3). matrix, inverse: prop space to world, (1 or n, 4, 4), and the inverse of its rotation and scale,
    (1 or n, 3, 3).
    """
    many = matrix.shape[0] > 1
    room = np.empty((8, 3))
    t, n, b, side, other, now, was, w = room[0], room[1], room[2], room[3], room[4], room[5], room[6], room[7]
    for i in range(face.size):
        f, m = face[i], i if many else 0
        a0 = 1.0 - b1[i] - b2[i]
        ia, ib, ic = faces[f, 0], faces[f, 1], faces[f, 2]
        for k in range(3):
            n[k] = a0 * normals[ia, k] + b1[i] * normals[ib, k] + b2[i] * normals[ic, k]
            side[k], other[k] = corners[f, 1, k] - corners[f, 0, k], corners[f, 2, k] - corners[f, 0, k]
        # the ways of growing u and v: the inverse of how (u, v) changes along the two sides
        for k in range(3):
            t[k] = side[k] * flat[f, 2] + other[k] * flat[f, 4]
            b[k] = side[k] * flat[f, 3] + other[k] * flat[f, 5]
        for k in range(3):
            now[k] = inverse[m, 0, k] * n[0] + inverse[m, 1, k] * n[1] + inverse[m, 2, k] * n[2]
            was[k] = matrix[m, k, 0] * t[0] + matrix[m, k, 1] * t[1] + matrix[m, k, 2] * t[2]
            w[k] = matrix[m, k, 0] * b[0] + matrix[m, k, 1] * b[1] + matrix[m, k, 2] * b[2]
        _unit(now)
        _flat_unit(was, now)
        _flat_unit(w, now)
        for k in range(3):
            p = matrix[m, k, 3]
            for j in range(3):
                p += matrix[m, k, j] * (corners[f, 0, j] + b1[i] * side[j] + b2[i] * other[j])
            place[i, k] = p + aside[i, 0] * now[k] + aside[i, 1] * was[k] + aside[i, 2] * w[k]
            facing[i, k] = now[k]


@kernel(_nrt=False)
def _unit(v):
    length = np.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
    if length > 1e-300:
        v[0], v[1], v[2] = v[0] / length, v[1] / length, v[2] / length


@kernel(_nrt=False)
def _flat_unit(v, normal):
    """Return a direction without its part along a unit normal, with length 1; zero where nothing is left."""
    along = v[0] * normal[0] + v[1] * normal[1] + v[2] * normal[2]
    v[0], v[1], v[2] = v[0] - along * normal[0], v[1] - along * normal[1], v[2] - along * normal[2]
    length = np.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
    if length > 1e-12:
        v[0], v[1], v[2] = v[0] / length, v[1] / length, v[2] / length
    else:
        v[0], v[1], v[2] = 0.0, 0.0, 0.0
