"""A twist."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import DEGREES, PERCENT
from .base import BoxedShaping, cosine_less_one

TURN = 6.283185307179586


class Twist(BoxedShaping):
    """What stands further along the box is turned further about its axis. Source: Barr, "Global and local deformations
    of solid primitives", SIGGRAPH 1984, by Rodrigues' rotation."""

    label = "Twist"
    help = "What stands further along the box is turned further about its axis."
    row_order = ("amount", "still")

    kind: Literal["twist"] = "twist"
    amount: Annotated[
        NumberRow,
        Driven(
            "Twist",
            DEGREES,
            -100_000,
            100_000,
            TURN,
            TURN / 4,
            "How far the high end of the box is turned against the low end.",
            always=True,
        ),
    ] = number(TURN / 4)
    still: Annotated[
        NumberRow,
        Driven("Still at", PERCENT, 0, 1, 1, 0.0, "Where along the box nothing is turned: 0 % at its low end."),
    ] = number(0)

    def moves(self, at: Reader, place: Values) -> Values:
        b, box = at.builder, self.boxed(at, place)
        angle = b.op("mul", self.how_much(at), b.op("sub", box.share, self.row(at, "still")[0]))
        sine, less = b.op("sin", angle), cosine_less_one(b, angle)
        across = b.op("sub", b.op("mul", box.across, less), b.op("mul", box.up, sine))
        up = b.op("add", b.op("mul", box.across, sine), b.op("mul", box.up, less))
        return self.in_world(at, b.const(0), across, up)
