"""Geodesic walks on triangles, face by face: straight where two triangles are unfolded into a plane."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

MAX_EDGES = 4096  # edges that one walk crosses at most
HOLD, TURN, RELEASE = 0, 1, 2  # at an open edge: goes along it, comes back, or is let go


@kernel()
def walk(face, b1, b2, direction, more, corners, beside, edge, gone):
    """Walk from positions on triangles along vectors, straight over edges, and transport a second vector along; all in
    place.

    face (n,), b1, b2: triangle and shares of its second and third corner. direction: distance to go as a vector, (n,
    3), metres, and on return what is left of it. more: the second vector, (n, 3). Both are projected into the first
    triangle, and are returned in the plane of the last. corners: (F, 3, 3). beside: (F, 3, 3), for the edge from each
    corner to the next the triangle beyond (-1: none) and its corners at the edge's start and end. edge: HOLD, TURN or
    RELEASE at an open edge. gone: (n,), 1 for those released there.
    """
    room = np.empty((7, 3))
    e1, e2, n, d, v, k, out = room[0], room[1], room[2], room[3], room[4], room[5], room[6]
    for i in range(face.size):
        f = face[i]
        gone[i] = 0.0
        w1, w2 = b1[i], b2[i]
        for a in range(3):
            d[a], v[a] = direction[i, a], more[i, a]
        _axes(corners, f, e1, e2, n)
        _project_to_plane(d, n)
        _project_to_plane(v, n)
        for _ in range(MAX_EDGES):
            g11, g12, g22 = _dot(e1, e1), _dot(e1, e2), _dot(e2, e2)
            det = g11 * g22 - g12 * g12
            if det <= 1e-300:
                break
            p, q = _dot(d, e1), _dot(d, e2)
            d1, d2 = (p * g22 - q * g12) / det, (q * g11 - p * g12) / det
            w0, d0 = 1.0 - w1 - w2, -d1 - d2
            # the first edge that it comes to: the one opposite of the corner whose share comes to nought
            side, t = -1, 1.0
            if d0 < 0.0 and w0 + d0 < -1e-12:
                side, t = 1, max(w0, 0.0) / -d0
            if d1 < 0.0 and w1 + d1 < -1e-12 and (side < 0 or max(w1, 0.0) / -d1 < t):
                side, t = 2, max(w1, 0.0) / -d1
            if d2 < 0.0 and w2 + d2 < -1e-12 and (side < 0 or max(w2, 0.0) / -d2 < t):
                side, t = 0, max(w2, 0.0) / -d2
            if side < 0:
                w1, w2 = max(w1 + d1, 0.0), max(w2 + d2, 0.0)
                for a in range(3):
                    d[a] = 0.0
                break
            w1, w2 = max(w1 + t * d1, 0.0), max(w2 + t * d2, 0.0)
            first, second = side, (side + 1) % 3
            for a in range(3):
                d[a] = d[a] * (1.0 - t)
                k[a] = corners[f, second, a] - corners[f, first, a]
            length = np.sqrt(_dot(k, k))
            if length <= 1e-300:
                break
            for a in range(3):
                k[a] = k[a] / length
            # out of the triangle, across the edge
            out[0], out[1], out[2] = k[1] * n[2] - k[2] * n[1], k[2] * n[0] - k[0] * n[2], k[0] * n[1] - k[1] * n[0]
            g = beside[f, side, 0]
            dk, do, vk, vo = _dot(d, k), _dot(d, out), _dot(v, k), _dot(v, out)
            if g < 0:
                if edge == RELEASE:
                    gone[i] = 1.0
                    break
                bounce = -1.0 if edge == TURN else 0.0
                do = bounce * do
                vo = bounce * vo if vo > 0.0 else vo
                for a in range(3):
                    d[a], v[a] = dk * k[a] + do * out[a], vk * k[a] + vo * out[a]
                if dk * dk + do * do <= 1e-24:
                    break
                continue
            shares = (1.0 - w1 - w2, w1, w2)
            total = max(shares[first] + shares[second], 1e-300)
            one, two = beside[f, side, 1], beside[f, side, 2]
            s1, s2 = shares[first] / total, shares[second] / total
            w1 = (s1 if one == 1 else 0.0) + (s2 if two == 1 else 0.0)
            w2 = (s1 if one == 2 else 0.0) + (s2 if two == 2 else 0.0)
            f = g
            _axes(corners, f, e1, e2, n)
            # into the next one: across the edge, towards its third corner
            third = 3 - one - two
            for a in range(3):
                out[a] = corners[f, third, a] - corners[f, one, a]
            along = _dot(out, k)
            for a in range(3):
                out[a] = out[a] - along * k[a]
            length = np.sqrt(_dot(out, out))
            if length <= 1e-300:
                break
            for a in range(3):
                out[a] = out[a] / length
                d[a], v[a] = dk * k[a] + do * out[a], vk * k[a] + vo * out[a]
        face[i], b1[i], b2[i] = f, w1, w2
        for a in range(3):
            direction[i, a], more[i, a] = d[a], v[a]


@kernel(_nrt=False)
def _dot(a, b):
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@kernel(_nrt=False)
def _axes(corners, f, e1, e2, n):
    """Write two side vectors and the unit normal of a triangle."""
    for a in range(3):
        e1[a], e2[a] = corners[f, 1, a] - corners[f, 0, a], corners[f, 2, a] - corners[f, 0, a]
    n[0], n[1], n[2] = e1[1] * e2[2] - e1[2] * e2[1], e1[2] * e2[0] - e1[0] * e2[2], e1[0] * e2[1] - e1[1] * e2[0]
    length = np.sqrt(_dot(n, n))
    if length > 1e-300:
        n[0], n[1], n[2] = n[0] / length, n[1] / length, n[2] / length


@kernel(_nrt=False)
def _project_to_plane(v, n):
    along = _dot(v, n)
    for a in range(3):
        v[a] = v[a] - along * n[a]
