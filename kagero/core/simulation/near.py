"""Neighbours: what each particle of an emitter has near it at a step's end. It is kept in the state, so that all that reads it reads the same."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..kernels import neighbours
from ..rows.near import RADIUS, TOLD
from .frames import Population

WORTH_IT = 4_000  # particles below which sharing costs more than it saves


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="near")


def with_neighbours(population: Population, threads: int = 1) -> Population:
    """Return particles with what is near them, within the radius (m) that each carries."""
    n = len(population)
    if not n:
        return population
    told = near(np.column_stack([*population.position, *population.velocity, population.carried[RADIUS]]), threads)
    found = {name: np.ascontiguousarray(told[:, k], np.float32) for k, name in enumerate(TOLD)}
    return replace(population, carried={name: found.get(name, values) for name, values in population.carried.items()})


def near(particles: np.ndarray, threads: int = 1) -> np.ndarray:
    """Return what particles have near them: see `kernels.neighbours.look`, (n, 11). particles: (n, 7): place, m; velocity, m/s; how far each
    looks, m."""
    n = len(particles)
    given, packed, told = np.zeros((n, 8), np.float32), np.empty((n, 8), np.float32), np.zeros((n, neighbours.TOLD))
    given[:, :7] = particles
    told[:, 1] = given[:, 6]
    size = float(given[:, 6].max(initial=0))
    if not size > 0:
        return told
    dims = _dims(np.ptp(given[:, :3], axis=0) / size, n)
    start, order = np.empty(int(dims.prod()) + 1, np.int64), np.empty(n, np.int64)
    neighbours.grid(given, size, dims, start, order, packed)
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
