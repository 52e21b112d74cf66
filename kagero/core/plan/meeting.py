"""What a step's program says of contacts: one operation takes a particle through all of them, and tells what it touched."""

from __future__ import annotations

from ..parts.contacts.base import Met, remembered, sticks
from ..rows.step import StepState
from ..rows.touch import STUCK, TOUCH
from .living import StepContext


def meet(at: StepContext, state: StepState) -> None:
    """Take the particle through the contacts that the step's parts told, from where pushes found it to where they have it now."""
    b = at.builder
    b.row = "contacts"
    (x0, v0, _), clip = state.before, at.effect.clip
    factors = (at.row("motion.bounce")[0], at.row("motion.friction")[0])
    wanted, sticky = remembered(at.thing), sticks(at.thing)
    held = tuple(b.input(name) if sticky else b.const(0) for name in STUCK)
    before = (b.input(TOUCH["touching"]), b.input(TOUCH["count"]), *held)
    given = (*x0, *v0, *state.position, *state.velocity, state.dt, *factors, *before)
    length = b.const(float(1 / (clip.rate * clip.substeps)))
    told = b.multi("met", *given, *state.contacts, b.input("key"), length, at.clip_time(), attrs=(Met(at.owner),))
    place, velocity, (touching, count, ago, speed, angle, *normal), facts, stuck = told[:3], told[3:6], told[6:14], told[14:18], told[18:22]
    state.position = tuple(b.op("guard", x, old) for x, old in zip(place, x0, strict=True))
    state.velocity = tuple(b.op("guard", x, old) for x, old in zip(velocity, v0, strict=True))
    state.kept |= {TOUCH["touching"]: touching, TOUCH["count"]: count}
    if sticky:
        state.kept |= dict(zip(STUCK, stuck, strict=True))
    fresh, any_ = b.op("less_equal", b.const(0), ago), b.op("less", b.const(0), facts[0])
    when = b.op("sub", at.clip_time(), ago)

    def kept(name: str, value: int, where: int) -> None:
        if name in wanted:
            state.kept[TOUCH[name]] = b.op("select", where, value, b.input(TOUCH[name]))

    first = b.op("mul", fresh, b.op("less_equal", b.input(TOUCH["count"]), b.const(0)))
    kept("first", when, first)
    kept("last", when, fresh)
    kept("speed", speed, fresh)
    kept("angle", angle, fresh)
    for i, value in enumerate(told[22:]):
        kept(f"place.{i}", value, fresh)
    for i, value in enumerate(normal):
        kept(f"normal.{i}", value, any_)
    for name, value in zip(("which", "u", "v", "face"), facts, strict=True):
        kept(name, value, any_)
