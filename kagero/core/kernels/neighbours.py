"""Who is near whom: a grid whose cells are as wide as somebody looks, and sums over those within."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

MOST = 256  # neighbours of one particle that are counted; others beyond are left out
ROOM = 4096  # places that are noted before they are looked at
NEIGHBOUR_VALUES = (
    11  # how many (1), the nearest one's distance (1), away from them, their velocity, their middle (3 each)
)


@kernel()
def grid(place, velocity, radius, size, dims, start, order, packed):
    """Sort particles into cells of a size, m: start (cells + 1,), order (n,): the particles of each cell, ascending; packed (n, 8): they in that
    order: place, velocity, radius, and nothing.

    place (m), velocity (m/s): (3, n) float32; radius (n,) float32, how far each looks, m. dims (3,): how many cells there are each way, powers of
    two; further cells begin anew at the first.
    """
    n = radius.size
    cell = np.empty(n, np.int64)
    start[:] = 0
    for i in range(n):
        cell[i] = _cell(_step(place[0, i], size), _step(place[1, i], size), _step(place[2, i], size), dims)
        start[cell[i] + 1] += 1
    for c in range(start.size - 1):
        start[c + 1] += start[c]
    at = start[:-1].copy()
    for i in range(n):
        there = at[cell[i]]
        at[cell[i]] += 1
        order[there] = i
        for k in range(3):
            packed[there, k], packed[there, 3 + k] = place[k, i], velocity[k, i]
        packed[there, 6], packed[there, 7] = radius[i], np.float32(0)


@kernel(error_model="numpy")
def look(packed, size, dims, start, order, first, last, found):
    """Write what the particles `first` to `last` of the order see within their radius, (n, NEIGHBOUR_VALUES).

    packed: as `grid` has them, so that neighbours lie together in memory; how far each looks is at
    most `size`. told is written at the particle's own number. Away: the sum over neighbours of the unit vector from each, times
    1 - distance / radius; of several in one place none is away from another. Velocity and middle: the mean of theirs; the middle as seen from the
    particle, m. Summed in the order of the cells, so that threads change nothing. Where nobody is near the distance is the radius, all else nought.
    """
    within = np.empty(ROOM, np.int64)
    one, none = np.float32(1), np.float32(0)
    wide, high, deep = dims[0], dims[1], dims[2]
    for i in range(first, last):
        x, y, z, r = packed[i, 0], packed[i, 1], packed[i, 2], packed[i, 6]
        mine = order[i]
        for k in range(NEIGHBOUR_VALUES):
            found[mine, k] = none
        found[mine, 1] = r
        if not r > none:
            continue
        # whoever is within reach (the particle too) is noted without a branch, since no processor could guess it
        noted, reach = np.int64(0), r * r
        ci, cj, ck = _step(x, size), _step(y, size), _step(z, size)
        left, right = (ci - 1) & (wide - 1), (ci + 1) & (wide - 1)
        for dk in range(-1, 2):
            for dj in range(-1, 2):
                row = (((ck + dk) & (deep - 1)) * high + ((cj + dj) & (high - 1))) * wide
                # three cells side by side are one stretch, but for where they begin anew
                for piece in range(1 if left < right else 2):
                    a, b = (left, right) if left < right else ((0, right) if piece == 0 else (left, wide - 1))
                    begin, end = np.uint64(start[row + a]), np.uint64(start[row + b + 1])
                    if noted + np.int64(end - begin) <= ROOM:
                        for j in range(begin, end):
                            gx, gy, gz = packed[j, 0] - x, packed[j, 1] - y, packed[j, 2] - z
                            within[np.uint64(noted)] = j
                            noted += np.int64(gx * gx + gy * gy + gz * gz < reach)
                    else:
                        for j in range(begin, end):
                            gx, gy, gz = packed[j, 0] - x, packed[j, 1] - y, packed[j, 2] - z
                            if noted < ROOM and gx * gx + gy * gy + gz * gz < reach:
                                within[noted] = j
                                noted += 1
        count, nearest, ax, ay, az, vx, vy, vz, mx, my, mz = 0, r, none, none, none, none, none, none, none, none, none
        for k in range(noted):
            other = np.uint64(within[k])
            if within[k] == i or count == MOST:
                continue
            gx, gy, gz = packed[other, 0] - x, packed[other, 1] - y, packed[other, 2] - z
            distance = np.sqrt(gx * gx + gy * gy + gz * gz)
            count += 1
            nearest = min(nearest, distance)
            push = (one - distance / r) / max(distance, np.float32(1e-9))
            ax, ay, az = ax - gx * push, ay - gy * push, az - gz * push
            vx, vy, vz = vx + packed[other, 3], vy + packed[other, 4], vz + packed[other, 5]
            mx, my, mz = mx + gx, my + gy, mz + gz
        if count:
            share = one / np.float32(count)
            found[mine, 0], found[mine, 1] = np.float32(count), nearest
            found[mine, 2], found[mine, 3], found[mine, 4] = ax, ay, az
            found[mine, 5], found[mine, 6], found[mine, 7] = vx * share, vy * share, vz * share
            found[mine, 8], found[mine, 9], found[mine, 10] = mx * share, my * share, mz * share


@kernel(_nrt=False)
def _step(x, size):
    return np.int64(np.floor(x / size))


@kernel(_nrt=False)
def _cell(i, j, k, dims):
    return ((k & (dims[2] - 1)) * dims[1] + (j & (dims[1] - 1))) * dims[0] + (i & (dims[0] - 1))
