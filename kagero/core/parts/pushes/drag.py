"""Drag."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import Pushes
from ...rows.units import PER_METRE, PER_SECOND
from .base import PushPart


class Drag(PushPart):
    """Still air that slows particles, the less the heavier they are: in proportion to their speed, and with its
    square."""

    label = "Drag"

    kind: Literal["drag"] = "drag"
    rate: Annotated[
        NumberRow,
        Driven(
            "Drag",
            PER_SECOND,
            0,
            10_000,
            4,
            0.8,
            "How quickly still air slows a particle; 1 /s takes 63 % of its speed each second.",
        ),
    ]
    squared: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Drag of a body",
            PER_METRE,
            0,
            10_000,
            2,
            0.0,
            "Drag with the square of the speed, as on a stone: 0.1 /m halves the speed in some 7 m; a fall ends at "
            "the root of gravity over it.",
        ),
    ] = number(0)

    def write(self, at: Reader, pushes: Pushes) -> None:
        b = at.builder
        pushes.carry(b.op("mul", self.row(at, "rate")[0], pushes.inverse_mass))
        if differs_from_default(self.squared, 0.0):
            still = b.const(0)
            pushes.slow_squared(b.op("mul", self.row(at, "squared")[0], pushes.inverse_mass), (still, still, still))
