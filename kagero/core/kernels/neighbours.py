"""Who is near whom: a grid whose cells are as wide as somebody looks, and sums over those within."""

from __future__ import annotations

import numpy as np
from numba import njit

MOST = 256  # neighbours of one particle that are counted; others beyond are left out
TOLD = 11  # how many (1), the nearest one's distance (1), away from them, their velocity, their middle (3 each)


@njit(cache=True, nogil=True)
def grid(place, size, dims, start, order):
    """Sort points (n, 3) into cells of a size, m: start (cells + 1,), order (n,): the points of each cell, ascending.

    dims (3,): how many cells there are each way, powers of two; further cells begin anew at the first.
    """
    n = place.shape[0]
    cell = np.empty(n, np.int64)
    start[:] = 0
    for i in range(n):
        cell[i] = _cell(_step(place[i, 0], size), _step(place[i, 1], size), _step(place[i, 2], size), dims)
        start[cell[i] + 1] += 1
    for c in range(start.size - 1):
        start[c + 1] += start[c]
    at = start[:-1].copy()
    for i in range(n):
        order[at[cell[i]]] = i
        at[cell[i]] += 1


@njit(cache=True, nogil=True)
def look(place, velocity, radius, size, dims, start, order, first, last, told):
    """Write what particles `first` to `last` see within their radius, (n, TOLD); of several points in one place none is away from another.

    place, velocity: (n, 3), m and m/s. radius: (n,), m, at most `size`. Away: the sum over neighbours of the unit vector from each, times
    1 - distance / radius. Velocity and middle: the mean of theirs; the middle as seen from the particle, m. In order of the cells, so that
    threads change nothing. Where nobody is near the distance is the radius and all else nought.
    """
    for i in range(first, last):
        x, y, z, r = place[i, 0], place[i, 1], place[i, 2], radius[i]
        for k in range(TOLD):
            told[i, k] = 0.0
        told[i, 1] = r
        if not r > 0.0:
            continue
        count, nearest = 0, r
        ax, ay, az, vx, vy, vz, mx, my, mz = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        ci, cj, ck = _step(x, size), _step(y, size), _step(z, size)
        for dk in range(-1, 2):
            for dj in range(-1, 2):
                for di in range(-1, 2):
                    cell = _cell(ci + di, cj + dj, ck + dk, dims)
                    for at in range(start[cell], start[cell + 1]):
                        j = order[at]
                        gx, gy, gz = place[j, 0] - x, place[j, 1] - y, place[j, 2] - z
                        square = gx * gx + gy * gy + gz * gz
                        if j == i or square >= r * r or count >= MOST:
                            continue
                        distance = np.sqrt(square)
                        count += 1
                        nearest = min(nearest, distance)
                        if distance > 1e-9:
                            push = (1.0 - distance / r) / distance
                            ax, ay, az = ax - gx * push, ay - gy * push, az - gz * push
                        vx, vy, vz = vx + velocity[j, 0], vy + velocity[j, 1], vz + velocity[j, 2]
                        mx, my, mz = mx + gx, my + gy, mz + gz
        if count:
            told[i, 0], told[i, 1] = count, nearest
            told[i, 2], told[i, 3], told[i, 4] = ax, ay, az
            told[i, 5], told[i, 6], told[i, 7] = vx / count, vy / count, vz / count
            told[i, 8], told[i, 9], told[i, 10] = mx / count, my / count, mz / count


@njit(cache=True, nogil=True, inline="always")
def _step(x, size):
    return np.int64(np.floor(x / size))


@njit(cache=True, nogil=True, inline="always")
def _cell(i, j, k, dims):
    return ((k & (dims[2] - 1)) * dims[1] + (j & (dims[1] - 1))) * dims[0] + (i & (dims[0] - 1))
