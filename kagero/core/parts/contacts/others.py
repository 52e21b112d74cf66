"""Particles of an emitter that meet each other."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...rows import collision_state
from ...rows.contact_state import STUCK
from ...rows.example import Example
from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.responses import differs_from_default
from ...rows.step import Phase, StepState
from ...rows.writing import row
from ..deeds.hold import STAYS
from .base import ContactDraw, ContactPart


class OthersContact(ContactPart):
    """The particles themselves, by their radii. Places are put apart and speeds answered at each step's end, round by
    round: it is slower than what stands still, fast small ones may go through each other, and what lies in heaps needs
    rounds and substeps."""

    mutual = True
    label = "Each other"
    help = (
        "Particles of this emitter meet each other by their radii. It is slower than other contacts and goes by "
        "places at each step's end: "
        "fast small ones may go through each other; heaps want more rounds, or substeps."
    )
    closed_form = False
    # a heap on the ground
    example = Example(
        emitter={
            "contacts": [
                {
                    "kind": "plane",
                    "uid": "ground",
                    "point": row([0.0, 0.25, 0.0]),
                    "bounce": row(0.2),
                    "friction": row(0.8),
                }
            ],
            "look": {"size": row(0.16)},
        }
    )
    compiles = "particles that meet each other"

    kind: Literal["others"] = "others"
    rounds: Annotated[
        int,
        Field(ge=1, le=32),
        Setting("Rounds", "How often in a step all are put apart: more hold heaps better, and take longer."),
    ] = 8

    def acts(self) -> bool:
        return False  # it is no thing that stands there: the step's program does not meet it

    def unused(self) -> frozenset[str]:
        return super().unused() | {"stick", "stick_below", "roughness", "region"}

    def strength_row(self) -> str:
        return "share"

    def possible(self, effect: Any, thing: Any) -> str:
        there = any(each.mutual and each.uid != self.uid for each in thing.contacts)
        return "They meet each other already." if there else ""

    def carried(self, at: Reader) -> dict[str, int]:
        return {} if self.muted else dict.fromkeys(collision_state.JOSTLE, at.builder.const(0))

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "remember" or self.muted:
            return
        b = at.builder
        b.row = f"contacts.{self.uid}"
        none = b.const(0)
        radius = b.op("mul", b.op("mul", at.row("look.size")[0], b.const(0.5)), self.row(at, "thickness")[0])
        if differs_from_default(self.share, 1.0):
            meets = b.op(
                "less", b.op("draw", b.input("key"), attrs=(ContactDraw(at.owner, self.uid),)), self.row(at, "share")[0]
            )
            radius = b.op("mul", radius, meets)
        inverse = b.op("div", b.const(1), at.row("births.mass")[0])
        for name in (STUCK[0], STAYS):  # what is held is not moved
            if name in state.kept:
                inverse = b.op("mul", inverse, b.op("equal", state.kept[name], none))
        bounce, friction = (self.row(at, name)[0] for name in ("bounce", "friction"))
        push = state.pushes.now()
        rest = b.op("mul", b.op("length", *push), state.dt)
        values = (
            radius,
            inverse,
            b.op("mul", bounce, at.row("motion.bounce")[0]),
            b.op("mul", friction, at.row("motion.friction")[0]),
            rest,
            none,
        )
        state.kept |= dict(zip(collision_state.JOSTLE, values, strict=True))


def rounds_of(thing: Any) -> int:
    """Return in how many rounds an emitter's particles are put apart; nought: they do not meet each other."""
    return next((each.rounds for each in thing.contacts if each.mutual and not each.muted), 0)
