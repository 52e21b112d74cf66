"""A taper."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT
from .base import BoxedShaping


class Taper(BoxedShaping):
    """Across the box all is drawn to its axis, the more the further along. Source: Barr, "Global and local deformations
    of solid primitives", SIGGRAPH 1984."""

    label = "Taper"
    help = "All is drawn to the axis of the box, the more the further along."
    row_order = ("amount", "still")

    kind: Literal["taper"] = "taper"
    amount: Annotated[
        NumberRow,
        Driven(
            "Taper",
            PERCENT,
            -100,
            100,
            1,
            0.5,
            "How much thinner it is at the high end: 100 % comes to a point, below 0 % it widens.",
            always=True,
        ),
    ] = number(0.5)
    still: Annotated[
        NumberRow, Driven("Still at", PERCENT, 0, 1, 1, 0.0, "Where along the box nothing moves: 0 % at its low end.")
    ] = number(0)

    def moves(self, at: Reader, place: Values) -> Values:
        b, box = at.builder, self.boxed(at, place)
        thinner = b.op("neg", b.op("mul", self.how_much(at), b.op("sub", box.share, self.row(at, "still")[0])))
        return self.in_world(at, b.const(0), b.op("mul", box.across, thinner), b.op("mul", box.up, thinner))
