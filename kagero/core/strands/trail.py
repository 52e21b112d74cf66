"""Trails through past positions of particles, at times that depend on the clip alone, so that they are equal at any
frame rate.

Between two stored frames a particle is on the cubic Hermite curve through its positions and velocities; before its
first frame on the parabola of its first two frames, back to its birth.
"""

from __future__ import annotations

import math

import numpy as np

from ..parts.looks.trail import LONGEST
from ..shaping import ShapedRun
from ..simulation import Population
from ..work_limits import claim
from .course import StrandPoints, StrandRequest, within_budget

F32, F64 = np.float32, np.float64


def course(asked: StrandRequest) -> StrandPoints:
    """Return each particle's trail: from its position back to that of `seconds` ago, or to its birth."""
    population = asked.shown.population
    n = len(population)
    back = np.clip(asked.shown.course["seconds"].astype(F64), 0, LONGEST)
    reach = np.minimum(back, asked.run.since(population, asked.number, asked.after, LONGEST))
    pieces = max(2, math.ceil(float(back.max(initial=0)) * asked.settings.detail))
    within_budget(
        n * (pieces + 1),
        f"{n:,} trails",
        "Let them go less far back, through fewer places a second, or let fewer particles live.",
    )
    if not n:
        return StrandPoints.nowhere()
    times = asked.seconds - reach[:, None] * np.linspace(0, 1, pieces + 1)[None, :]
    return StrandPoints.of_each(places(asked, population, times))


def places(asked: StrandRequest, population: Population, times: np.ndarray) -> np.ndarray:
    """Return the positions of particles at times, (n, k, 3) float64, metres. times: (n, k) clip seconds, none before a
    birth or after the frame."""
    run, number = asked.run, asked.number + math.ceil(asked.after)
    step = run.plan.seconds(number) - run.plan.seconds(number - 1)
    earliest = float(times.min())
    first = max(run.earliest, number - math.ceil((asked.seconds - earliest) / step + 1e-6) - 1)
    first = min(first, number - 1) if number > run.earliest else number
    place, velocity, there = gathered(run, population, first, number, asked)
    when = np.array([*(run.plan.seconds(k) for k in range(first, number)), asked.seconds])
    if len(when) == 1:
        return place[0][:, None, :] + velocity[0][:, None, :] * (times - when[0])[..., None]
    k = np.clip(np.floor((times - when[0]) / step + 1e-9).astype(int), 0, len(when) - 2)
    steps = np.diff(when)
    rows = np.arange(len(population))[:, None]
    p0, p1, v0, v1, known = place[k, rows], place[k + 1, rows], velocity[k, rows], velocity[k + 1, rows], there[k, rows]
    step_k = steps[k][..., None]
    u = (times - when[k])[..., None] / step_k
    cubic = (
        p0 * (1 + 2 * u) * (1 - u) ** 2
        + p1 * u * u * (3 - 2 * u)
        + (v0 * u * (1 - u) ** 2 - v1 * u * u * (1 - u)) * step_k
    )
    after = np.minimum(k + 2, len(when) - 1)
    push = np.where(
        (after > k + 1)[..., None],
        (velocity[after, rows] - v1) / steps[np.minimum(k + 1, len(steps) - 1)][..., None],
        0,
    )
    gone = (when[k + 1] - times)[..., None]
    return np.where(known[..., None], cubic, p1 - v1 * gone + push * gone * gone / 2)


def gathered(
    run: ShapedRun, population: Population, first: int, last: int, asked: StrandRequest
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the positions and velocities of particles at frames first..last, (f, n, 3) float64 each, and whether they
    lived then, (f, n)."""
    n = len(population)
    claim(
        49 * (last - first + 1) * n,
        f"{n:,} trails through {last - first + 1:,} frames",
        "Let them go less far back, or let fewer particles live.",
    )
    place = np.zeros((last - first + 1, n, 3))
    velocity = np.zeros((last - first + 1, n, 3))
    there = np.zeros((last - first + 1, n), bool)
    order = np.argsort(population.key, kind="stable")
    keys = population.key[order]
    for row, number in enumerate(range(first, last + 1)):
        then = population if number == last else run.at(number, 0.0, asked.stopped)
        if not len(then):
            continue
        at = np.minimum(np.searchsorted(keys, then.key), n - 1)
        mine = keys[at] == then.key
        index = order[at[mine]]
        place[row, index] = np.stack(then.position, axis=1)[mine]
        velocity[row, index] = np.stack(then.velocity, axis=1)[mine]
        there[row, index] = True
    return place, velocity, there
