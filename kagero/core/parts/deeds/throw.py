"""A cue changes the particle's velocity."""

from __future__ import annotations

from typing import Annotated

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.step import StepState
from ...rows.units import METRES_PER_SECOND, PERCENT
from .base import Deed, Happening


class Throw(Deed):
    """It multiplies the velocity, and adds to it."""

    deed_rows = ("speeds", "kick")

    speeds: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Velocity times",
            PERCENT,
            -100,
            100,
            2,
            1.0,
            "What its velocity is multiplied by: 0 % stops it, -100 % turns it round.",
        ),
    ] = number(1)
    kick: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Velocity added", METRES_PER_SECOND, -10_000, 10_000, 6, (0.0, 0.0, 0.0), "What is added to its velocity."
        ),
    ] = vector(0, 0, 0)

    def velocity_after(self, at: Reader, velocity: Values) -> Values:
        b = at.builder
        if differs_from_default(self.speeds, 1.0):
            velocity = tuple(b.op("mul", v, self.row(at, "speeds")[0]) for v in velocity)
        if differs_from_default(self.kick, (0.0, 0.0, 0.0)):
            velocity = tuple(b.op("add", v, k) for v, k in zip(velocity, self.row(at, "kick"), strict=True))
        return velocity

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        b, velocity = at.builder, Throw.velocity_after(self, at, state.velocity)
        if velocity is not state.velocity:
            state.velocity = tuple(
                b.op("guard", b.op("select", happening.fires, new, old), old)
                for new, old in zip(velocity, state.velocity, strict=True)
            )
