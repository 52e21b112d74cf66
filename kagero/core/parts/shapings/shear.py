"""A shear."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.units import DEGREES, PERCENT
from .base import BoxedShaping

TURN = 6.283185307179586


class Shear(BoxedShaping):
    """What stands further along the box is moved further across it."""

    label = "Shear"
    help = "What stands further along the box is moved further across it."
    row_order = ("amount", "toward", "still")

    kind: Literal["shear"] = "shear"
    amount: Annotated[
        NumberRow,
        Driven(
            "Shear",
            PERCENT,
            -1000,
            1000,
            1,
            0.5,
            "How far across it goes on the way along: 100 % as far as it is long.",
            always=True,
        ),
    ] = number(0.5)
    toward: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Toward", DEGREES, -100_000, 100_000, TURN / 2, 0.0, "Which way, about the axis of the box."),
    ] = number(0)
    still: Annotated[
        NumberRow, Driven("Still at", PERCENT, 0, 1, 1, 0.0, "Where along the box nothing moves: 0 % at its low end.")
    ] = number(0)

    def moves(self, at: Reader, place: Values) -> Values:
        b, box = at.builder, self.boxed(at, place)
        far = b.op("mul", self.how_much(at), b.op("mul", box.long, b.op("sub", box.share, self.row(at, "still")[0])))
        if not differs_from_default(self.toward, 0.0):
            return self.in_world(at, b.const(0), far, b.const(0))
        (toward,) = self.row(at, "toward")
        return self.in_world(
            at, b.const(0), b.op("mul", far, b.op("cos", toward)), b.op("mul", far, b.op("sin", toward))
        )
