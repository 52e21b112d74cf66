"""Nearest points and frames on polylines."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

GROUP = 16  # spans that share a box


@kernel()
def boxes_into(corners, low, high):
    """Write the bounds of every GROUP spans of a polyline with corners (N, 3): low and high, (groups, 3) each."""
    spans = corners.shape[0] - 1
    for g in range(low.shape[0]):
        for k in range(3):
            a = b = corners[g * GROUP, k]
            for i in range(g * GROUP, min((g + 1) * GROUP, spans) + 1):
                a, b = min(a, corners[i, k]), max(b, corners[i, k])
            low[g, k], high[g, k] = a, b


@kernel()
def nearest_into(points, corners, low, high, span, part, away):
    """Write for each of the points (n, 3) the nearest span, the share of it, and the distance, (n,) each. Among equals
    the first span is taken."""
    spans = corners.shape[0] - 1
    guess = 0  # neighbours in the list are mostly neighbours in space
    for i in range(points.shape[0]):
        x, y, z = points[i, 0], points[i, 1], points[i, 2]
        best, at, share = np.inf, 0, 0.0
        for turn in range(low.shape[0] + 1):
            g = guess if turn == 0 else turn - 1
            if turn > 0 and g == guess:
                continue
            if turn > 0:
                gap = 0.0
                for k in range(3):
                    p = points[i, k]
                    d = max(low[g, k] - p, p - high[g, k], 0.0)
                    gap += d * d
                if gap > best:
                    continue
            for j in range(g * GROUP, min((g + 1) * GROUP, spans)):
                ax, ay, az = corners[j, 0], corners[j, 1], corners[j, 2]
                sx, sy, sz = corners[j + 1, 0] - ax, corners[j + 1, 1] - ay, corners[j + 1, 2] - az
                square = max(sx * sx + sy * sy + sz * sz, 1e-300)
                t = min(max(((x - ax) * sx + (y - ay) * sy + (z - az) * sz) / square, 0.0), 1.0)
                gx, gy, gz = ax + t * sx - x, ay + t * sy - y, az + t * sz - z
                d = gx * gx + gy * gy + gz * gz
                if d < best or (d == best and j < at):
                    best, at, share = d, j, t
        span[i], part[i], away[i] = at, share, np.sqrt(best)
        guess = at // GROUP


@kernel(writes="out")
def frames_into(share, along, corners, tangents, ups, closed, matrices, out):
    """Write point, tangent, normal and binormal at shares of a polyline's length (n,), transformed by matrices (1 or n,
    4, 4): out (12, n).

    along: (N,), length up to each of the corners (N, 3), with their tangents and normals. The frames are orthonormal,
    right-handed and rotation-minimising.
    """
    spans = corners.shape[0] - 1
    length = along[spans]
    point, t, u = np.empty(3), np.empty(3), np.empty(3)
    guess = 0
    for i in range(share.shape[0]):
        m = matrices[i if matrices.shape[0] > 1 else 0]
        at = (share[i] % 1.0 if closed else min(max(share[i], 0.0), 1.0)) * length
        if not (along[guess] <= at and (at < along[guess + 1] or guess == spans - 1)):
            low, high = 0, spans
            while high - low > 1:
                middle = (low + high) // 2
                if along[middle] <= at:
                    low = middle
                else:
                    high = middle
            guess = low
        gap = along[guess + 1] - along[guess]
        part = (at - along[guess]) / gap if gap > 0.0 else 0.0
        for k in range(3):
            point[k] = corners[guess, k] * (1.0 - part) + corners[guess + 1, k] * part
            t[k] = tangents[guess, k] * (1.0 - part) + tangents[guess + 1, k] * part
            u[k] = ups[guess, k] * (1.0 - part) + ups[guess + 1, k] * part
        size = max(np.sqrt(t[0] * t[0] + t[1] * t[1] + t[2] * t[2]), 1e-300)
        leans = (u[0] * t[0] + u[1] * t[1] + u[2] * t[2]) / (size * size)
        for k in range(3):
            u[k] -= t[k] * leans
            t[k] /= size
        for k in range(3):
            out[k, i] = m[k, 0] * point[0] + m[k, 1] * point[1] + m[k, 2] * point[2] + m[k, 3]
            out[3 + k, i] = m[k, 0] * t[0] + m[k, 1] * t[1] + m[k, 2] * t[2]
            out[6 + k, i] = m[k, 0] * u[0] + m[k, 1] * u[1] + m[k, 2] * u[2]
        a, b, c = out[3, i], out[4, i], out[5, i]
        size = max(np.sqrt(a * a + b * b + c * c), 1e-300)
        a, b, c = a / size, b / size, c / size
        leans = out[6, i] * a + out[7, i] * b + out[8, i] * c
        x, y, z = out[6, i] - a * leans, out[7, i] - b * leans, out[8, i] - c * leans
        size = max(np.sqrt(x * x + y * y + z * z), 1e-300)
        x, y, z = x / size, y / size, z / size
        out[3, i], out[4, i], out[5, i] = a, b, c
        out[6, i], out[7, i], out[8, i] = x, y, z
        out[9, i], out[10, i], out[11, i] = b * z - c * y, c * x - a * z, a * y - b * x
