"""A step of a particle, in phases over one state: each part adds to the phases; what all share is here.

Integration: all pushes together are x'' = A - K x' - S x, evaluated half a step ahead and solved exactly over the step
(drift, kick, drift: Verlet, "Computer experiments on classical fluids", Physical Review 159 (1967), in its position
form). Free flight is exact for a constant acceleration, constant drag towards moving air and constant springs;
everything else is second order in dt.
"""

from __future__ import annotations

from ..parts.deeds.hold import keep_stopped
from ..program import Builder
from ..rows.model import parts_in
from ..rows.step import PHASES, StepState
from .contact_step import write_contacts
from .cue_step import needs_each_touch, write_cues
from .living_contexts import StepContext


def write_step(
    at: StepContext, latched: tuple[str, ...], remembering: frozenset[str], each_touch: bool = False
) -> dict[str, int]:
    """Return the outputs of a step's program by name.

    latched: masks that particles remember having touched. remembering: rows that depend on the previous step.
    each_touch: cues happen at each touch of the step; otherwise at the last, and the output `again` marks the particles
    for which that is not enough, where there is a cue by a touch.
    """
    b = at.builder
    inverse_mass = b.op("div", b.const(1), at.row("births.mass")[0])
    state = StepState(
        b,
        at.state("position"),
        at.state("velocity"),
        at.state("rotation")[0],
        b.input("dt"),
        inverse_mass,
        b.input("middle"),
    )
    parts = list(parts_in(at.thing))
    for phase in PHASES:
        if phase == "push":
            state.begin()
        if phase == "integrate":
            b.row = "motion"
            _integrate(state)
        if phase == "remember":
            _update_latches(at, state, latched)
        for part in parts:
            part.step(phase, at, state)
        if phase == "touch" and state.contacts:
            write_contacts(at, state, each_touch)
        if phase == "touch":
            keep_stopped(at, state)
    write_cues(at, state)
    each_touch_needed = None if each_touch else needs_each_touch(at, state)
    return (
        state.outputs()
        | _remembered(at, remembering)
        | ({} if each_touch_needed is None else {"again": each_touch_needed})
    )


def _integrate(state: StepState) -> None:
    b, dt, pushes = state.builder, state.dt, state.pushes
    velocity = state.velocity
    if pushes.squared:  # how fast it is against the air, half a step on
        half = b.op("mul", dt, b.const(0.5))
        push, coupling = pushes.linear(velocity)
        assert coupling is not None
        slows, gain = b.op("decay", coupling, half), b.op("relax", coupling, half)
        velocity = tuple(_advance(b, b.op("mul", v, slows), a, gain) for v, a in zip(velocity, push, strict=True))
    push, coupling = pushes.linear(velocity)
    keep: int | None
    if pushes.stiffness is not None:
        stiffness = pushes.stiffness
        keep, gain, reach = b.multi("flight", b.const(0) if coupling is None else coupling, stiffness, dt)
        # from where it is: what a place far from the origin pulls is no difference of large numbers
        push = [
            _advance(b, b.const(0) if a is None else a, b.op("neg", x), stiffness)
            for a, x in zip(push, state.position, strict=True)
        ]
    elif coupling is not None:
        keep, gain, reach = b.op("decay", coupling, dt), b.op("relax", coupling, dt), b.op("creep", coupling, dt)
    else:
        keep, gain, reach = None, dt, b.op("mul", b.op("mul", dt, dt), b.const(0.5))
    place, velocities = [], []
    for position, before, a in zip(state.position, state.velocity, push, strict=True):
        new = _advance(b, before if keep is None else b.op("mul", before, keep), a, gain)
        there = b.op("add", position, _advance(b, b.op("mul", before, gain), a, reach))
        velocities.append(b.op("guard", new, before))
        place.append(b.op("guard", there, position))
    state.position, state.velocity = tuple(place), tuple(velocities)


def _advance(b: Builder, value: int, push: int | None, times: int) -> int:
    return value if push is None else b.op("add", value, b.op("mul", push, times))


def _update_latches(at: StepContext, state: StepState, masks: tuple[str, ...]) -> None:
    """Update what is remembered of masks, at the position at the step's end."""
    b, time, half = at.builder, at.clip_time(), at.builder.const(0.5)
    for uid in masks:
        b.row = f"mask {uid}"
        before, when = b.input(f"latch.{uid}"), b.input(f"touched.{uid}")
        now = b.op("max", before, at.mask_value(uid, state.position, time))
        state.kept[f"latch.{uid}"] = now
        state.kept[f"touched.{uid}"] = b.op(
            "select", b.op("mul", b.op("less", before, half), b.op("less_equal", half, now)), time, when
        )


def _remembered(at: StepContext, rows: frozenset[str]) -> dict[str, int]:
    """Return, computed last, what the next step reads as `previous`, and the rows that depend on it; frames show these
    values."""
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
