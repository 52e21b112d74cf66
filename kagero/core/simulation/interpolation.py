"""Particles at times between stored frames, each along its own curve.

A particle that lives at both frames is on the cubic Hermite curve through its positions and velocities. One born in
between is on the parabola of its first two frames, extended back to its birth; one that ends in between on that of its
last two, extended to its end.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..rows.turn import ROTATION_STATE
from .events import ENDED, Events
from .frames import CARRIED, POSITION, VELOCITY, Population
from .run import EmitterRun

F32, F64 = np.float32, np.float64
EVEN = 1e-9  # of a frame: nearer to a stored frame than so, it is that one


def between(run: EmitterRun, number: int, after: float, stopped: Callable[[], None] = lambda: None) -> Population:
    """Return the particles at `after` of a frame's duration past frame `number` (negative: before it), with position
    and velocity.

    Carried columns that change smoothly (rotations, own attributes) are interpolated linearly; all others are those of
    the earlier frame. Before the first frame of the clip or its run-up, the first frame is returned.
    """
    whole = math.floor(after + EVEN)
    share = max(after - whole, 0.0)
    first = max(number + whole, run.earliest)
    if share < EVEN or number + whole < run.earliest:
        return run.frame_at(first, stopped).population
    frame, then = run.frame_at(first, stopped), run.frame_at(first + 1, stopped)
    now, later = run.plan.seconds(first), run.plan.seconds(first + 1)
    step, when = later - now, now + share * (later - now)
    a, b = frame.population, then.population
    in_b, in_a = _positions_among(a.key, b.key), _positions_among(b.key, a.key)
    columns = a.floats.astype(F64)
    both = in_b >= 0
    to = b.floats.astype(F64)[:, in_b[both]]
    u = share
    p0 = columns[POSITION:VELOCITY, both]
    v0 = columns[VELOCITY:CARRIED, both]
    p1 = to[POSITION:VELOCITY]
    v1 = to[VELOCITY:CARRIED]
    columns[POSITION:VELOCITY, both] = (
        p0 * (1 + 2 * u) * (1 - u) ** 2
        + p1 * u * u * (3 - 2 * u)
        + (v0 * u * (1 - u) ** 2 - v1 * u * u * (1 - u)) * step
    )
    columns[VELOCITY:CARRIED, both] = (
        (p1 - p0) * (6 * u * (1 - u)) / step + v0 * (1 - u) * (1 - 3 * u) + v1 * u * (3 * u - 2)
    )
    smooth = [
        CARRIED + i
        for i, name in enumerate(a.names)
        if name == "rotation" or name in ROTATION_STATE or name.startswith("own.")
    ]
    turns = [CARRIED + a.names.index(name) for name in ROTATION_STATE if name in a.names]
    if turns:
        to[turns] *= np.where((columns[turns][:, both] * to[turns]).sum(axis=0) < 0, -1.0, 1.0)
    for row in smooth:
        columns[row, both] += (to[row] - columns[row, both]) * u
    if turns:
        columns[turns] /= np.maximum(np.linalg.norm(columns[turns], axis=0), 1e-12)

    ended = _end_times(a, then.events.only(ENDED))
    alone = ~both
    if alone.any():
        push = _acceleration(run, first - 1, a, alone, step, stopped, back=True)
        columns[POSITION:VELOCITY, alone] += (
            columns[VELOCITY:CARRIED, alone] * (when - now) + push * (when - now) ** 2 / 2
        )
        columns[VELOCITY:CARRIED, alone] += push * (when - now)
    kept = both | (when < np.minimum(ended, later))
    born = (in_a < 0) & (b.birth_time <= when) & (b.birth_time > now - 1e-12)
    new = b.floats.astype(F64)[:, born]
    if born.any():
        push = _acceleration(run, first + 2, b, born, step, stopped, back=False)
        gone = np.minimum(later - when, later - b.birth_time[born])
        new[POSITION:VELOCITY] += -new[VELOCITY:CARRIED] * gone + push * gone**2 / 2
        new[VELOCITY:CARRIED] -= push * gone
    floats = np.concatenate([columns[:, kept], new], axis=1).astype(F32)
    key, birth = np.concatenate([a.key[kept], b.key[born]]), np.concatenate([a.birth_time[kept], b.birth_time[born]])
    floats[0] = when - birth
    return Population(key, birth, np.ascontiguousarray(floats), a.names)


def _positions_among(keys: np.ndarray, among: np.ndarray) -> np.ndarray:
    """Return the index of each key among others, -1 where it is missing."""
    if not len(among):
        return np.full(len(keys), -1)
    order = np.argsort(among, kind="stable")
    at = np.minimum(np.searchsorted(among[order], keys), len(among) - 1)
    return np.where(among[order[at]] == keys, order[at], -1)


def _end_times(population: Population, events: Events) -> np.ndarray:
    """Return the end of each particle's life, by lifespan or events, (n,) clip seconds."""
    ends = population.birth_time + population.lifespan.astype(F64)
    at = _positions_among(population.key, events.key)
    here = at >= 0
    ends[here] = np.minimum(ends[here], events.time[at[here]])
    return ends


def _acceleration(
    run: EmitterRun,
    number: int,
    population: Population,
    which: np.ndarray,
    step: float,
    stopped: Callable[[], None],
    back: bool,
) -> np.ndarray:
    """Return the acceleration of some particles from their velocities at two frames, (3, k): this frame and the
    previous (back) or next one; zero where they do not live there."""
    acceleration = np.zeros((3, int(which.sum())))
    if number < run.earliest:
        return acceleration
    other = run.frame_at(number, stopped).population
    at = _positions_among(population.key[which], other.key)
    here = at >= 0
    change = population.floats[VELOCITY:CARRIED, which][:, here].astype(F64) - other.floats[VELOCITY:CARRIED][
        :, at[here]
    ].astype(F64)
    acceleration[:, here] = change / step if back else -change / step
    return acceleration
