"""Neighbours of each particle at the end of a step. They are part of the state, so that everything that reads them sees
the same values."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import numpy as np

from ..kernels import neighbours
from ..rows.neighbour_state import NEIGHBOUR_VALUES, RADIUS
from .frames import CARRIED, POSITION, VELOCITY, Population

MIN_PARTICLES_FOR_THREADS = 4_000  # particles below which sharing costs more than it saves


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="near")


def find_neighbours(population: Population, threads: int = 1) -> Population:
    """Write into particles, which are returned, the neighbour values within the radius (m) that each carries."""
    n = len(population)
    if not n:
        return population
    neighbourhood = neighbour_values(
        population.floats[POSITION:VELOCITY], population.floats[VELOCITY:CARRIED], population.carried[RADIUS], threads
    )
    for k, name in enumerate(NEIGHBOUR_VALUES):
        if name in population.names:
            population.floats[CARRIED + population.names.index(name)] = neighbourhood[:, k]
    return population


def neighbour_values(place: np.ndarray, velocity: np.ndarray, radius: np.ndarray, threads: int = 1) -> np.ndarray:
    """Return the neighbour values of particles, (n, 11) float32; see `kernels.neighbours.sum_neighbours`. place (m),
    velocity (m/s): (3, n) float32. radius: (n,) float32, metres."""
    n = len(radius)
    neighbourhood = np.zeros((n, neighbours.NEIGHBOUR_VALUES), np.float32)
    neighbourhood[:, 1] = radius
    size = radius.max(initial=np.float32(0))
    if not size > 0:
        return neighbourhood
    packed, dims, start, order = cells(place, velocity, radius, size)
    in_threads(
        lambda a, b: neighbours.sum_neighbours(packed, size, dims, start, order, a, b, neighbourhood),
        n,
        threads if n >= MIN_PARTICLES_FOR_THREADS else 1,
    )
    return neighbourhood


def cells(place: np.ndarray, velocity: np.ndarray, radius: np.ndarray, size: np.float32) -> tuple[np.ndarray, ...]:
    """Return particles sorted into cells of `size` metres: packed, dims, start and order, as in
    `kernels.neighbours.grid`."""
    n = len(radius)
    packed, dims = np.empty((n, 8), np.float32), cells_per_axis(np.ptp(place, axis=1) / size, n)
    start, order = np.empty(int(dims.prod()) + 1, np.int64), np.empty(n, np.int64)
    neighbours.grid(place, velocity, radius, size, dims, start, order, packed)
    return packed, dims, start, order


def in_threads(work: Callable[[int, int], None], n: int, threads: int) -> None:
    """Run work(first, last) for equal parts of 0..n on several threads."""
    if threads <= 1:
        work(0, n)
        return
    cuts = [n * k // threads for k in range(threads + 1)]
    list(_pool(threads).map(lambda k: work(cuts[k], cuts[k + 1]), range(threads)))


def cells_per_axis(extent: np.ndarray, n: int) -> np.ndarray:
    """Return the number of cells along each axis before the grid wraps around: powers of two from 4 on, together few
    more than there are points. extent: of the points, in cells."""
    wanted = np.clip(np.ceil(np.log2(np.maximum(extent, 1) + 2)).astype(np.int64), 2, 20)
    most = max(6, int(np.ceil(np.log2(2 * n + 1))))
    while wanted.sum() > most and wanted.max() > 2:
        wanted[np.argmax(wanted)] -= 1
    return np.asarray(1 << wanted, np.int64)
