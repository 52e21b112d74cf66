"""The acceleration that each push of an emitter gives: on average, to one particle, and over a plane."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..engine import prepare_reference
from ..geometry.streamlines import streamlines
from ..plan import EmitterPlan
from ..simulation import POSITION, VELOCITY, Population, frame_inputs
from ..work_limits import spend

LOOKED_AT = 2_000  # particles in whose mean a push is measured
MOST_ARROWS = 41  # of a slice, along a side
LINES_APART = 1 / 18  # streamlines of a slice, of its side


def accelerations(plan: EmitterPlan, population: Population, seconds: float | np.ndarray) -> dict[str, np.ndarray]:
    """Return each unmuted push's acceleration of particles, by uid, (n, 3), m/s²."""
    program, n = plan.pushes.program, len(population)
    spend(n * len(program.operations))
    out = prepare_reference(program).run(plan.values, frame_inputs(population, seconds), n) if n else {}
    return {
        uid: np.nan_to_num(np.stack([out[f"{uid}.{i}"] for i in range(3)], axis=1)) if n else np.zeros((0, 3))
        for uid in plan.pushes.uids
    }


def strengths(plan: EmitterPlan, population: Population, seconds: float | np.ndarray) -> dict[str, float]:
    """Return each push's mean magnitude, by uid, m/s²; empty without particles."""
    if not len(population):
        return {}
    some = np.arange(0, len(population), max(1, -(-len(population) // LOOKED_AT)))
    when = seconds[some] if isinstance(seconds, np.ndarray) else seconds
    pushes = accelerations(plan, population.where(some), when)
    return {uid: float(f"{np.linalg.norm(a, axis=1).mean(dtype=np.float64):.4g}") for uid, a in pushes.items()}


def push_on_particle(plan: EmitterPlan, one: Population, seconds: float) -> dict[str, list[float]]:
    """Return each push's acceleration of one particle, by uid, m/s² along x, y and z."""
    return {uid: [float(f"{x:.5g}") for x in a[0]] for uid, a in accelerations(plan, one, seconds).items()}


def slice_through(
    plan: EmitterPlan,
    one: Population,
    seconds: float,
    push: str,
    across: np.ndarray,
    up: np.ndarray,
    reach: float,
    count: int,
) -> dict[str, Any]:
    """Return what a push (an empty uid: all of them) would do to a particle on a plane through it.

    across, up: unit vectors of the plane, (3,). reach: metres from the particle to each side. count: points along a
    side. Returned are points and pushes, (count², 3), metres and m/s², row by row; and lines: streamlines within the
    plane, (.., 4), each point with its push as a share of the strongest.
    """
    count = int(np.clip(count, 2, MOST_ARROWS))
    every = max(1, (MOST_ARROWS - 1) // (count - 1))  # lines need it finer than arrows do
    side = (count - 1) * every + 1
    along = np.linspace(-reach, reach, side)
    a, b = (each.ravel()[:, None] for each in np.meshgrid(along, along))
    middle = np.array([float(column[0]) for column in one.position])
    points = (middle + a * across + b * up).astype(np.float32)
    n = len(points)
    many = one.where(np.zeros(n, np.intp))
    many.floats[POSITION:VELOCITY] = points.T
    pushes = accelerations(plan, many, seconds)
    total = np.asarray(
        pushes.get(push, np.zeros((n, 3))) if push else sum(pushes.values(), np.zeros((n, 3))), np.float64
    )
    shown = np.arange(n).reshape(side, side)[::every, ::every].ravel()
    return {
        "points": [[float(f"{x:.6g}") for x in p] for p in points[shown]],
        "pushes": [[float(f"{x:.5g}") for x in p] for p in total[shown]],
        "lines": _lines(total.reshape(side, side, 3), middle, across, up, reach),
    }


def _lines(
    total: np.ndarray, middle: np.ndarray, across: np.ndarray, up: np.ndarray, reach: float
) -> list[list[list[float]]]:
    side = len(total)
    cell = 2 * reach / (side - 1)
    plane = np.stack([total @ across, total @ up], axis=2)
    strongest = max(float(np.linalg.norm(total, axis=2).max()), 1e-30)
    lines = []
    for line in streamlines(plane, (side - 1) * LINES_APART):
        x, y = line[::2].T
        i, j = np.rint(y).astype(int), np.rint(x).astype(int)
        places = middle + ((x * cell - reach)[:, None] * across + (y * cell - reach)[:, None] * up)
        shares = np.linalg.norm(total[i, j], axis=1) / strongest
        lines.append(
            [[float(f"{v:.5g}") for v in (*place, share)] for place, share in zip(places, shares, strict=True)]
        )
    return lines
