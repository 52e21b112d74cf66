"""Places on a line of spans nearest to points."""

from __future__ import annotations

import numpy as np
from numba import njit

GROUP = 16  # spans that share a box


@njit(cache=True, nogil=True)
def boxes_into(corners, low, high):
    """Write the bounds of every GROUP spans of a line of corners (N, 3): (groups, 3) each."""
    spans = corners.shape[0] - 1
    for g in range(low.shape[0]):
        for k in range(3):
            a = b = corners[g * GROUP, k]
            for i in range(g * GROUP, min((g + 1) * GROUP, spans) + 1):
                a, b = min(a, corners[i, k]), max(b, corners[i, k])
            low[g, k], high[g, k] = a, b


@njit(cache=True, nogil=True)
def nearest_into(points, corners, low, high, span, part, away):
    """Write of points (n, 3) the span that is nearest, the share of it, and how far that is, (n,) each. Of equals the first span counts."""
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
