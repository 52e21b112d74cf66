"""Collisions among the particles of an emitter, resolved in rounds at the end of a step."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..kernels import particle_collisions
from ..rows import collision_state as kept
from ..rows.contact_state import TOUCH
from .frames import CARRIED, POSITION, VELOCITY, Population
from .neighbours import MIN_PARTICLES_FOR_THREADS, cells, in_threads

MARGIN = 0.2  # of the largest radius, how far particles may be put while the list of whom they meet holds


def resolve_collisions(population: Population, rounds: int, threads: int = 1) -> Population:
    """Separate particles by the radii that they carry, correct their velocities, and count touches; return the
    particles. The bytes are the same for any number of threads."""
    n = len(population)
    if not n:
        return population
    row = {name: CARRIED + k for k, name in enumerate(population.names)}
    floats = population.floats
    radius, inverse, bounce, friction, rest = (floats[row[name]].astype(np.float64) for name in kept.JOSTLE[:-1])
    floats[row[kept.COUNT]] = 0
    largest = float(radius.max(initial=0))
    if not largest > 0:
        return population
    size = np.float32(2 * largest * (1 + MARGIN))
    packed, dims, start, order = cells(
        floats[POSITION:VELOCITY], floats[VELOCITY:CARRIED], floats[row[kept.RADIUS]], size
    )
    listed, counts = np.empty((n, particle_collisions.MAX_PARTNERS), np.int32), np.empty(n, np.int32)
    wall = np.zeros((3, n))
    if TOUCH["touching"] in row:
        on = floats[row[TOUCH["touching"]]] > 0.5
        for k in range(3):
            wall[k] = np.where(on, floats[row[TOUCH[f"normal.{k}"]]], 0)
    place, velocity = floats[POSITION:VELOCITY].astype(np.float64), floats[VELOCITY:CARRIED].astype(np.float64)
    there = np.empty_like(place)
    velocity_after = np.empty_like(velocity)
    met = np.zeros(n, np.int32)
    busy = np.zeros(n, np.int32)

    def each(work: Callable[..., None], *given: object) -> None:
        in_threads(lambda a, b: work(*given, a, b), n, threads if n >= MIN_PARTICLES_FOR_THREADS else 1)

    each(
        lambda a, b: particle_collisions.list_partners(
            packed, size, dims, start, order, 2 * largest * MARGIN, a, b, listed, counts
        )
    )
    if not counts.any():
        return population
    before = place.copy()
    for turn in range(rounds):
        each(
            lambda v, a, b: particle_collisions.count_approaching(
                before, v, radius, inverse, listed, counts, a, b, busy
            ),
            velocity,
        )
        each(
            lambda v, out, lively, a, b: particle_collisions.apply_impulses(
                before, v, radius, inverse, bounce, friction, rest, wall, lively, listed, counts, busy, a, b, out
            ),
            velocity,
            velocity_after,
            turn == 0,
        )
        velocity, velocity_after = velocity_after, velocity
        each(
            lambda x, out, a, b: particle_collisions.project_positions(
                x, before, radius, inverse, friction, wall, listed, counts, a, b, out, met
            ),
            place,
            there,
        )
        place, there = there, place
    floats[POSITION:VELOCITY], floats[VELOCITY:CARRIED], floats[row[kept.COUNT]] = place, velocity, met
    return population
