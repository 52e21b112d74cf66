"""Who is near whom: a grid whose cells are as wide as somebody looks, and sums over those within."""

from __future__ import annotations

import numpy as np
from numba import njit

MOST = 256  # neighbours of one particle that are counted; others beyond are left out
TOLD = 11  # how many (1), the nearest one's distance (1), away from them, their velocity, their middle (3 each)


@njit(cache=True, nogil=True)
def grid(particles, size, dims, start, order, packed):
    """Sort particles into cells of a size, m: start (cells + 1,), order (n,): the particles of each cell, ascending; packed: they in that order.

    particles, packed: (n, 8) float32: place (m), velocity (m/s), how far each looks (m), and nothing. dims (3,): how many cells there are each
    way, powers of two; further cells begin anew at the first.
    """
    n = particles.shape[0]
    cell = np.empty(n, np.int64)
    start[:] = 0
    for i in range(n):
        cell[i] = _cell(_step(particles[i, 0], size), _step(particles[i, 1], size), _step(particles[i, 2], size), dims)
        start[cell[i] + 1] += 1
    for c in range(start.size - 1):
        start[c + 1] += start[c]
    at = start[:-1].copy()
    for i in range(n):
        there = at[cell[i]]
        at[cell[i]] += 1
        order[there] = i
        for k in range(8):
            packed[there, k] = particles[i, k]


@njit(cache=True, nogil=True)
def look(packed, size, dims, start, order, first, last, told):
    """Write what the particles `first` to `last` of the order see within their radius, (n, TOLD).

    packed: as `grid` has them, so that neighbours lie together in memory; how far each looks is at
    most `size`. told is written at the particle's own number. Away: the sum over neighbours of the unit vector from each, times
    1 - distance / radius; of several in one place none is away from another. Velocity and middle: the mean of theirs; the middle as seen from the
    particle, m. Summed in the order of the cells, so that threads change nothing. Where nobody is near the distance is the radius, all else nought.
    """
    for i in range(first, last):
        x, y, z, r = packed[i, 0], packed[i, 1], packed[i, 2], packed[i, 6]
        mine = order[i]
        for k in range(TOLD):
            told[mine, k] = 0.0
        told[mine, 1] = r
        if not r > np.float32(0):
            continue
        count, nearest, reach = 0, r, r * r
        ax, ay, az, vx, vy, vz, mx, my, mz = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        ci, cj, ck = _step(x, size), _step(y, size), _step(z, size)
        for dk in range(-1, 2):
            for dj in range(-1, 2):
                row = ((ck + dk) & (dims[2] - 1)) * dims[1] + ((cj + dj) & (dims[1] - 1))
                left, right = (ci - 1) & (dims[0] - 1), (ci + 1) & (dims[0] - 1)
                # three cells side by side are one stretch, but for where they begin anew
                for piece in range(1 if left < right else 2):
                    low, high = (left, right) if left < right else ((0, right) if piece == 0 else (left, dims[0] - 1))
                    for j in range(start[row * dims[0] + low], start[row * dims[0] + high + 1]):
                        gx, gy, gz = packed[j, 0] - x, packed[j, 1] - y, packed[j, 2] - z
                        square = gx * gx + gy * gy + gz * gz
                        if square >= reach or j == i or count >= MOST:
                            continue
                        distance = np.sqrt(square)
                        count += 1
                        nearest = min(nearest, distance)
                        if distance > np.float32(1e-9):
                            push = (np.float32(1) - distance / r) / distance
                            ax, ay, az = ax - gx * push, ay - gy * push, az - gz * push
                        vx, vy, vz = vx + packed[j, 3], vy + packed[j, 4], vz + packed[j, 5]
                        mx, my, mz = mx + gx, my + gy, mz + gz
        if count:
            told[mine, 0], told[mine, 1] = count, nearest
            told[mine, 2], told[mine, 3], told[mine, 4] = ax, ay, az
            told[mine, 5], told[mine, 6], told[mine, 7] = vx / count, vy / count, vz / count
            told[mine, 8], told[mine, 9], told[mine, 10] = mx / count, my / count, mz / count


@njit(cache=True, nogil=True, inline="always")
def _step(x, size):
    return np.int64(np.floor(x / size))


@njit(cache=True, nogil=True, inline="always")
def _cell(i, j, k, dims):
    return ((k & (dims[2] - 1)) * dims[1] + (j & (dims[1] - 1))) * dims[0] + (i & (dims[0] - 1))
