"""A step of a particle, in phases over one state: parts add to each, and what all have in common stands here.

Integration: all pushes together are dv/dt = A - K v, solved exactly over the step; the new velocity then moves the particle.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..rows.model import Part, fields_of
from ..rows.step import PHASES, StepState
from .living import StepContext


def write_step(at: StepContext, latched: tuple[str, ...], remembering: frozenset[str]) -> dict[str, int]:
    """Return what the program of a step gives, by name. latched: the masks that particles remember having touched; remembering: the rows
    that depend on the step before."""
    b = at.builder
    inverse_mass = b.op("div", b.const(1), at.row("births.mass")[0])
    state = StepState(b, at.state("position"), at.state("velocity"), at.state("rotation")[0], b.input("dt"), inverse_mass)
    parts = list(parts_of(at.thing))
    for phase in PHASES:
        if phase == "integrate":
            b.row = "motion"
            _integrate(state)
        if phase == "remember":
            _latch(at, state, latched)
        for part in parts:
            part.step(phase, at, state)
    return state.outputs() | _remembered(at, remembering)


def parts_of(thing: Any) -> Iterator[Part]:
    """Yield a part and the parts within it, in the order of their fields."""
    if isinstance(thing, Part):
        yield thing
        for facts in fields_of(type(thing)):
            yield from parts_of(getattr(thing, facts.name))
    elif isinstance(thing, list):
        for each in thing:
            yield from parts_of(each)


def _integrate(state: StepState) -> None:
    b, dt, pushes = state.builder, state.dt, state.pushes
    keep, gain = (None, dt) if pushes.coupling is None else (b.op("decay", pushes.coupling, dt), b.op("relax", pushes.coupling, dt))
    place, way = [], []
    for position, velocity, push in zip(state.position, state.velocity, pushes.acceleration, strict=True):
        new = velocity if keep is None else b.op("mul", velocity, keep)
        if push is not None:
            new = b.op("add", new, b.op("mul", push, gain))
        new = b.op("guard", new, velocity)
        way.append(new)
        place.append(b.op("guard", b.op("add", position, b.op("mul", new, dt)), position))
    state.position, state.velocity = tuple(place), tuple(way)


def _latch(at: StepContext, state: StepState, masks: tuple[str, ...]) -> None:
    """Note what is remembered of masks after a step: where the particle has come to, at the step's end."""
    b, time, half = at.builder, at.clip_time(), at.builder.const(0.5)
    for uid in masks:
        b.row = f"mask {uid}"
        before, when = b.input(f"latch.{uid}"), b.input(f"touched.{uid}")
        now = b.op("max", before, at.mask_value(uid, state.position, time))
        state.kept[f"latch.{uid}"] = now
        state.kept[f"touched.{uid}"] = b.op("select", b.op("mul", b.op("less", before, half), b.op("less_equal", half, now)), time, when)


def _remembered(at: StepContext, rows: frozenset[str]) -> dict[str, int]:
    """Return, after everything else, what the next step reads as `previous`, and the rows that depend on it: frames show these as they were."""
    outputs: dict[str, int] = {}
    for address in sorted(rows):
        outputs |= {f"row.{address}.{i}": value for i, value in enumerate(at.row(address))}
    at.builder.row = "previous"
    done: set[str] = set()
    while len(done) < len(at.remembers):
        for name, (_, compute) in [item for item in at.remembers.items() if item[0] not in done]:
            done.add(name)
            outputs |= {f"{name}.{i}": value for i, value in enumerate(compute(at))}
    return outputs
