"""A cue by a touch."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.contact_state import LEFT, TOUCH
from ...rows.example import Example
from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import METRES_PER_SECOND, PLAIN
from .base import CuePart


class TouchCue(CuePart):
    """When a particle comes upon a contact: at its first touch, or its third; fast enough."""

    label, momentary, reads_touches = "When it touches", True, True
    help = (
        "When a particle comes upon one of its contacts: at its first touch or a later one, at some speed. Each time: "
        "up to eight touches a step."
    )
    example = Example(needs=("contact:plane",))

    kind: Literal["touch"] = "touch"
    touches: Annotated[
        NumberRow, Driven("Touches", PLAIN, 1, 10_000, 2, 1.0, "From how many touches on.", always=True)
    ] = number(1)
    faster: Annotated[
        NumberRow,
        Driven(
            "At a speed of",
            METRES_PER_SECOND,
            0,
            10_000,
            4,
            0.0,
            "How fast it has to come upon it, at least.",
            always=True,
        ),
    ] = number(0)

    def true(self, at: Any) -> int:
        b = at.builder
        if not any(each.acts() for each in at.view.thing.contacts):
            return b.const(0)
        count = b.input(TOUCH["count"])
        fresh = b.op("less", at.before(TOUCH["count"]), count)  # it did in this step
        enough = b.op("mul", b.op("less_equal", self.row(at, "touches")[0], count), b.op("less", b.const(0), count))
        return b.op(
            "mul", b.op("mul", enough, fresh), b.op("less_equal", self.row(at, "faster")[0], b.input(TOUCH["speed"]))
        )

    def _met(self, at: Reader) -> bool:
        return any(each.acts() for each in at.view.thing.contacts)

    def ago(self, at: Reader, state: StepState, since: int, lasts: int | None) -> int:
        b = at.builder
        return b.op("sub", at.clip_time(), b.input(TOUCH["last"])) if self._met(at) else b.const(0)

    def moment(self, at: Reader, state: StepState, ago: int) -> tuple[Values, Values]:
        b = at.builder
        if not self._met(at) or differs_from_default(self.delay, 0.0):
            return super().moment(at, state, ago)
        place, normal = (tuple(b.input(TOUCH[f"{name}.{i}"]) for i in range(3)) for name in ("place", "normal"))
        return place, normal

    def leaves(self, at: Reader) -> Values | None:
        return (
            None
            if not self._met(at) or differs_from_default(self.delay, 0.0)
            else tuple(at.builder.input(name) for name in LEFT)
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        here = next((each for each in effect.emitters if any(cue.uid == self.uid for cue in each.cues)), None)
        return (
            ("touches", "has nothing to touch yet", "Add a contact.")
            if here is not None and not here.contacts
            else None
        )
