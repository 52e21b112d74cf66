"""Computation time of a frame: of its step and its look, and each row's share."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np

from ..catalog import row_label
from ..engine import Prepared, prepare_for_engine, prepare_reference
from ..plan import EmitterPlan
from ..simulation import frame_inputs, step_inputs
from .play import Playing, never_stopped

MOST, TURNS = 16_384, 3  # particles looked at, and how often; the fastest turn counts


def cost(
    playing: Playing, number: int, clock: Callable[[], float], stopped: Callable[[], None] = never_stopped
) -> dict[str, Any]:
    """Return for each emitter the milliseconds of one step and one look of frame `number` on the engine in use, and for
    each row its milliseconds.

    A row's share is that of its operations on the reference engine: an estimate where machine code runs, in which rows
    are not separate. clock: returns seconds.
    """
    plan, seconds = playing.plan, playing.plan.seconds(number)
    emitters = []
    for emitter, compiled, frame in zip(
        playing.effect.emitters, plan.emitters, playing.frames(number, stopped), strict=True
    ):
        population = frame.population
        count = min(len(population), MOST)
        rows: dict[str, dict[str, float]] = {}
        totals = {"step": 0.0, "look": 0.0}
        if count:
            some = population.where(slice(0, count))
            inputs = {
                **frame_inputs(some, seconds),
                **step_inputs(some, np.float32(float(1 / plan.frame_rate / plan.substeps)), seconds),
            }
            for part, program, times in (
                ("step", compiled.step, plan.substeps),
                *(("look", look.program, 1) for look in compiled.looks if not look.muted),
            ):
                hot = prepare_for_engine(program, playing.engine)
                whole = min(_elapsed(partial(hot.run, compiled.values, inputs, count), clock) for _ in range(TURNS + 1))
                took = whole * times * len(population) / count * 1e3
                totals[part] += took
                shares = _shares(prepare_reference(program), compiled, inputs, count, clock)
                for address, share in shares.items():
                    rows.setdefault(address, {"step": 0.0, "look": 0.0})[part] += share * took
        dearest = sorted(rows.items(), key=lambda row: -sum(row[1].values()))
        listed = [
            {"address": address, "label": _label(playing, emitter, compiled, address), **parts}
            for address, parts in dearest
        ]
        emitters.append({"uid": emitter.uid, "name": emitter.name, "count": len(population), **totals, "rows": listed})
    return {"frame": number, "emitters": emitters}


def _elapsed(work: Callable[[], Any], clock: Callable[[], float]) -> float:
    started = clock()
    work()
    return clock() - started


def _shares(
    program: Prepared, plan: EmitterPlan, inputs: dict[str, Any], count: int, clock: Callable[[], float]
) -> dict[str, float]:
    turns = [program.timed(plan.values, inputs, count, clock) for _ in range(TURNS)]
    fastest = {row: min(turn[row] for turn in turns) for row in turns[0]}
    total = sum(fastest.values()) or 1.0
    return {row: took / total for row, took in fastest.items()}


def _label(playing: Playing, emitter: Any, plan: EmitterPlan, address: str) -> str:
    """Return the sheet's row that an operation belongs to, in the artist's words."""
    placed = plan.rows.get(address)
    if placed is not None:
        host = plan.rows.get(placed.host, placed)
        return row_label(emitter, host)
    force = next((force for force in emitter.forces if address == f"forces.{force.uid}"), None)
    if force is not None:
        return f"{force.label}: the field"
    if address.startswith("mask "):
        return f"{next(prop.name for prop in playing.effect.props if prop.uid == address[5:])}: what is remembered"
    return {"motion": "moving and slowing"}.get(address, "placing and launching")
