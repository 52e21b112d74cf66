"""Neighbour search: a grid whose cells are as wide as the largest radius, and sums over the particles within."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

MAX_NEIGHBOURS = 256  # neighbours of one particle that are counted; others beyond are left out
MAX_CANDIDATES = 4096  # places that are noted before they are looked at
NEIGHBOUR_VALUES = (
    11  # how many (1), the nearest one's distance (1), away from them, their velocity, their middle (3 each)
)


@kernel()
def grid(place, velocity, radius, size, dims, start, order, packed):
    """Sort particles into cells of `size` metres.

    place (m), velocity (m/s): (3, n) float32. radius: (n,) float32, metres. dims (3,): number of cells along each axis,
    powers of two; cells beyond wrap around. Written: start (cells + 1,), order (n,): particle indices of each cell,
    ascending; packed (n, 8): in that order position, velocity, radius, and one unused.
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
def sum_neighbours(packed, size, dims, start, order, first, last, found):
    """Write the neighbour sums of the particles first..last - 1 of the order into found (n, NEIGHBOUR_VALUES), at each
    particle's own index.

    packed: from `grid`; no radius exceeds `size`. The values are: number of neighbours; distance to the nearest; the
    sum of unit vectors away from each, times 1 - distance / radius (none among particles at one point); the neighbours'
    mean velocity; their mean position relative to the particle, m. Sums run in the order of the cells, so that threads
    change nothing. Without neighbours the distance is the radius and everything else zero.
    """
    within = np.empty(MAX_CANDIDATES, np.int64)
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
                    if noted + np.int64(end - begin) <= MAX_CANDIDATES:
                        for j in range(begin, end):
                            gx, gy, gz = packed[j, 0] - x, packed[j, 1] - y, packed[j, 2] - z
                            within[np.uint64(noted)] = j
                            noted += np.int64(gx * gx + gy * gy + gz * gz < reach)
                    else:
                        for j in range(begin, end):
                            gx, gy, gz = packed[j, 0] - x, packed[j, 1] - y, packed[j, 2] - z
                            if noted < MAX_CANDIDATES and gx * gx + gy * gy + gz * gz < reach:
                                within[noted] = j
                                noted += 1
        count, nearest, ax, ay, az, vx, vy, vz, mx, my, mz = 0, r, none, none, none, none, none, none, none, none, none
        for k in range(noted):
            other = np.uint64(within[k])
            if within[k] == i or count == MAX_NEIGHBOURS:
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
