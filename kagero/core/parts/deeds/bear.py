"""A cue gives birth: other emitters are born where it happens."""

from __future__ import annotations

from typing import Annotated, ClassVar

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import PLAIN
from .base import Deed, Happening


class Bear(Deed):
    """Particles of other emitters are born at it. momentary: the cue's moment has no duration, such as a touch; it is
    noted in any case."""

    deed_rows = ("bears",)
    momentary: ClassVar[bool] = False

    bears: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Gives birth to",
            PLAIN,
            0,
            10_000,
            20,
            0.0,
            "To how many of each emitter that is born at this cue: choose it there, where births are.",
        ),
    ] = number(0)

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if not differs_from_default(self.bears, 0.0) and not self.momentary:
            return
        velocity = state.velocity if happening.leaves is None else self.velocity_after(at, happening.leaves)
        state.borne.setdefault(self.uid, []).append(
            (
                happening.ago,
                *happening.place,
                *velocity,
                *happening.normal,
                self.row(at, "bears")[0],
                happening.count,
            )
        )
