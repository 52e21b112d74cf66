"""Neighbours: what each particle of an emitter has near it at a step's end. It is kept in the state, so that all that reads it reads the same."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import numpy as np

from ..kernels import neighbours
from ..rows.near import RADIUS, TOLD
from .frames import CARRIED, PLACE, WAY, Population

WORTH_IT = 4_000  # particles below which sharing costs more than it saves


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="near")


def find_neighbours(population: Population, threads: int = 1) -> Population:
    """Write into particles, which are returned, what is near them within the radius (m) that each carries."""
    n = len(population)
    if not n:
        return population
    told = near(population.floats[PLACE:WAY], population.floats[WAY:CARRIED], population.carried[RADIUS], threads)
    for k, name in enumerate(TOLD):
        if name in population.names:
            population.floats[CARRIED + population.names.index(name)] = told[:, k]
    return population


def near(place: np.ndarray, velocity: np.ndarray, radius: np.ndarray, threads: int = 1) -> np.ndarray:
    """Return what particles have near them: see `kernels.neighbours.look`, (n, 11) float32. place, m, velocity, m/s: (3, n) float32; radius, m:
    (n,) float32, how far each looks."""
    n = len(radius)
    packed, told = np.empty((n, 8), np.float32), np.zeros((n, neighbours.TOLD), np.float32)
    told[:, 1] = radius
    size = radius.max(initial=np.float32(0))
    if not size > 0:
        return told
    dims = _dims(np.ptp(place, axis=1) / size, n)
    start, order = np.empty(int(dims.prod()) + 1, np.int64), np.empty(n, np.int64)
    neighbours.grid(place, velocity, radius, size, dims, start, order, packed)
    cuts = [n * k // threads for k in range(threads + 1)] if n >= WORTH_IT else [0, n]

    def part(k: int) -> None:
        neighbours.look(packed, size, dims, start, order, cuts[k], cuts[k + 1], told)

    if len(cuts) == 2:
        part(0)
    else:
        list(_pool(threads).map(part, range(threads)))
    return told


def _dims(extent: np.ndarray, n: int) -> np.ndarray:
    """Return how many cells there are each way: powers of two, 4 at least, and no more in all than some for each point."""
    wanted = np.clip(np.ceil(np.log2(np.maximum(extent, 1) + 2)).astype(np.int64), 2, 20)
    most = max(6, int(np.ceil(np.log2(2 * n + 1))))
    while wanted.sum() > most and wanted.max() > 2:
        wanted[np.argmax(wanted)] -= 1
    return np.asarray(1 << wanted, np.int64)
