"""Neighbours: what each particle of an emitter has near it at a step's end. It is kept in the state, so that all that reads it reads the same."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import numpy as np

from ..kernels import neighbours
from ..rows.neighbour_state import NEIGHBOUR_VALUES, RADIUS
from .frames import CARRIED, POSITION, VELOCITY, Population

WORTH_IT = 4_000  # particles below which sharing costs more than it saves


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="near")


def find_neighbours(population: Population, threads: int = 1) -> Population:
    """Write into particles, which are returned, what is near them within the radius (m) that each carries."""
    n = len(population)
    if not n:
        return population
    neighbourhood = near(
        population.floats[POSITION:VELOCITY], population.floats[VELOCITY:CARRIED], population.carried[RADIUS], threads
    )
    for k, name in enumerate(NEIGHBOUR_VALUES):
        if name in population.names:
            population.floats[CARRIED + population.names.index(name)] = neighbourhood[:, k]
    return population


def near(place: np.ndarray, velocity: np.ndarray, radius: np.ndarray, threads: int = 1) -> np.ndarray:
    """Return what particles have near them: see `kernels.neighbours.look`, (n, 11) float32. place, m, velocity, m/s: (3, n) float32; radius, m:
    (n,) float32, how far each looks."""
    n = len(radius)
    neighbourhood = np.zeros((n, neighbours.NEIGHBOUR_VALUES), np.float32)
    neighbourhood[:, 1] = radius
    size = radius.max(initial=np.float32(0))
    if not size > 0:
        return neighbourhood
    packed, dims, start, order = cells(place, velocity, radius, size)
    shared(
        lambda a, b: neighbours.look(packed, size, dims, start, order, a, b, neighbourhood),
        n,
        threads if n >= WORTH_IT else 1,
    )
    return neighbourhood


def cells(place: np.ndarray, velocity: np.ndarray, radius: np.ndarray, size: np.float32) -> tuple[np.ndarray, ...]:
    """Return particles in cells of a size, m: packed, dims, start and order, as of `kernels.neighbours.grid`."""
    n = len(radius)
    packed, dims = np.empty((n, 8), np.float32), folded(np.ptp(place, axis=1) / size, n)
    start, order = np.empty(int(dims.prod()) + 1, np.int64), np.empty(n, np.int64)
    neighbours.grid(place, velocity, radius, size, dims, start, order, packed)
    return packed, dims, start, order


def shared(work: Callable[[int, int], None], n: int, threads: int) -> None:
    """Let threads do a part each of 0 to n."""
    if threads <= 1:
        work(0, n)
        return
    cuts = [n * k // threads for k in range(threads + 1)]
    list(_pool(threads).map(lambda k: work(cuts[k], cuts[k + 1]), range(threads)))


def folded(extent: np.ndarray, n: int) -> np.ndarray:
    """Return after how many cells each way space is folded: powers of two from 4 on, in all few more than there are points. extent: in cells."""
    wanted = np.clip(np.ceil(np.log2(np.maximum(extent, 1) + 2)).astype(np.int64), 2, 20)
    most = max(6, int(np.ceil(np.log2(2 * n + 1))))
    while wanted.sum() > most and wanted.max() > 2:
        wanted[np.argmax(wanted)] -= 1
    return np.asarray(1 << wanted, np.int64)
