"""A stretch."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.units import PERCENT
from .base import BoxedShaping


class Stretch(BoxedShaping):
    """Along the box all is drawn out or pressed together, and across it as much thinner or thicker as keeps its
    volume."""

    label = "Stretch"
    help = "All is drawn out along the box, or pressed together."
    row_order = ("amount", "still", "volume")

    kind: Literal["stretch"] = "stretch"
    amount: Annotated[
        NumberRow,
        Driven(
            "Stretch",
            PERCENT,
            -0.99,
            100,
            2,
            0.5,
            "How much longer the box is: 100 % twice as long, -50 % half.",
            always=True,
        ),
    ] = number(0.5)
    still: Annotated[
        NumberRow, Driven("Still at", PERCENT, 0, 1, 1, 0.0, "Where along the box nothing moves: 0 % at its low end.")
    ] = number(0)
    volume: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Keeps its volume",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How much thinner it becomes as it grows longer: 100 % keeps its volume.",
        ),
    ] = number(0)

    def moves(self, at: Reader, place: Values) -> Values:
        b, box = at.builder, self.boxed(at, place)
        amount = self.how_much(at)
        along = b.op("mul", amount, b.op("mul", box.long, b.op("sub", box.share, self.row(at, "still")[0])))
        if not differs_from_default(self.volume, 0.0):
            return self.in_world(at, along, b.const(0), b.const(0))
        power = b.op("mul", self.row(at, "volume")[0], b.const(-0.5))
        thinner = b.op("sub", b.op("pow", b.op("add", b.const(1), amount), power), b.const(1))
        thinner = b.op("select", amount, thinner, b.const(0))
        return self.in_world(at, along, b.op("mul", box.across, thinner), b.op("mul", box.up, thinner))
