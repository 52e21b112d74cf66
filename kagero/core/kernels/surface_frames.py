"""Places of (u, v) on triangles, with the frame there: what rides on surfaces ask for at every step."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

INSIDE = -1e-9  # how far outside a triangle of (u, v), in shares of it, still counts as within


@kernel()
def locate(u, v, low_u, low_v, wide, high, across, up, start, items, flat, face, b1, b2):
    """Write the triangle at each (u, v), and the shares of its second and third corner; -1 where there is none. All (n,).

    The (u, v) of the triangles lie in a grid of across x up cells of wide x high from (low_u, low_v): start (across * up + 1,), items: of
    each cell the triangles that reach into it, ascending. flat: of each triangle its first corner's (u, v) and the inverse of its two
    sides, (F, 6). Where several triangles hold a place the first counts.
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
def stand(face, b1, b2, aside, corners, flat, faces, normals, matrix, inverse, place, facing):
    """Write places on triangles in the world with what they stand off, and unit normals there, (n, 3) each.

    face (n,), b1, b2: a triangle and the shares of its second and third corner. aside: metres out along the normal, along growing u and
    along growing v, (n, 3). corners: of the triangles now, (F, 3, 3); normals: smooth ones of the points now, (V, 3). matrix, inverse: from
    the prop's space to the world, (1 or n, 4, 4), and the inverse of its
    turn and scale, (1 or n, 3, 3).
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
    """Take from a direction what lies along a unit normal, and make it of length 1; nought where nothing is left."""
    along = v[0] * normal[0] + v[1] * normal[1] + v[2] * normal[2]
    v[0], v[1], v[2] = v[0] - along * normal[0], v[1] - along * normal[1], v[2] - along * normal[2]
    length = np.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
    if length > 1e-12:
        v[0], v[1], v[2] = v[0] / length, v[1] / length, v[2] / length
    else:
        v[0], v[1], v[2] = 0.0, 0.0, 0.0
