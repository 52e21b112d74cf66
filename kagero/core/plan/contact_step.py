"""Contacts in a step's program: one operation moves the particle through all contacts and gives its touches.

Few particles touch more than once in a step. A second program of the same step, which knows each touch, handles them.
"""

from __future__ import annotations

from ..kernels.contact_columns import TOUCH as TOUCH_FACTS
from ..parts.contacts.base import Met, remembered, sticks
from ..rows.contact_state import LEFT, STUCK, TOUCH
from ..rows.step import StepState
from .living_contexts import StepContext


def write_contacts(at: StepContext, state: StepState, each: bool) -> None:
    """Move the particle through the contacts that the step's parts have added, from where forces began to where they
    end. each: keep each touch of the step, not only the last."""
    b = at.builder
    b.row = "contacts"
    (x0, v0, _), clip = state.before, at.effect.clip
    factors = (at.row("motion.bounce")[0], at.row("motion.friction")[0])
    wanted, sticky = remembered(at.thing), sticks(at.thing)
    held = tuple(b.input(name) if sticky else b.const(0) for name in STUCK)
    before = (b.input(TOUCH["touching"]), b.input(TOUCH["count"]), *held)
    given = (*x0, *v0, *state.position, *state.velocity, state.dt, *factors, *before)
    length = b.const(float(1 / (clip.rate * clip.substeps)))
    by_touch = any(cue.momentary and not cue.muted for cue in at.thing.cues)
    reported = b.multi(
        "met_often" if each else "met_cued" if by_touch else "met",
        *given,
        *state.contacts,
        b.input("key"),
        length,
        at.clip_time(),
        attrs=(Met(at.owner),),
    )
    place, velocity, (touching, count), last, stuck, then = (
        reported[:3],
        reported[3:6],
        reported[6:8],
        reported[8:18],
        reported[18:22],
        reported[22:28],
    )
    state.position = tuple(b.op("guard", x, old) for x, old in zip(place, x0, strict=True))
    state.velocity = tuple(b.op("guard", x, old) for x, old in zip(velocity, v0, strict=True))
    state.kept |= {TOUCH["touching"]: touching, TOUCH["count"]: count}
    if sticky:
        state.kept |= dict(zip(STUCK, stuck, strict=True))
    touches = [reported[first : first + TOUCH_FACTS] for first in range(28, len(reported), TOUCH_FACTS)]
    first = touches[0] if touches else (*last, *then)
    untouched = b.op("less_equal", b.input(TOUCH["count"]), b.const(0))

    def kept(touch: tuple[int, ...]) -> dict[str, int]:
        """Return what is remembered after a touch: the moment of an impact, or the contact that a particle lies on."""
        ago, speed, angle, *normal = touch[:6]
        which, fresh = touch[6], b.op("less_equal", b.const(0), ago)
        moment = {"last": b.op("sub", at.clip_time(), ago), "speed": speed, "angle": angle}
        moment |= {f"place.{i}": value for i, value in enumerate(touch[10:13])}
        lies = {f"normal.{i}": value for i, value in enumerate(normal)} | dict(
            zip(("which", "u", "v", "face"), touch[6:10], strict=True)
        )
        began = b.op("mul", b.op("less_equal", b.const(0), first[0]), untouched)
        columns = {"first": b.op("select", began, b.op("sub", at.clip_time(), first[0]), b.input(TOUCH["first"]))}
        for values, where in ((moment, fresh), (lies, b.op("less", b.const(0), which))):
            columns |= {
                name: b.op("select", where, value, b.input(TOUCH[name]))
                for name, value in values.items()
                if name in wanted
            }
        return {TOUCH[name]: value for name, value in columns.items() if name in wanted}

    state.kept |= kept((*last, *then))
    if by_touch:
        state.passing |= dict(zip(LEFT, then[3:], strict=True))
    state.touched = b.op("sub", count, b.input(TOUCH["count"]))
    for touch in touches:
        state.touches.append(
            (b.op("less_equal", b.const(0), touch[0]), kept(touch) | dict(zip(LEFT, touch[13:], strict=True)))
        )
