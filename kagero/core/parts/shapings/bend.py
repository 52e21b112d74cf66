"""A bend."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.units import DEGREES, PERCENT
from .base import BoxedShaping, cosine_less_one, sine_over

TURN = 6.283185307179586


class Bend(BoxedShaping):
    """The box's axis becomes a part of a circle, as long as it was; what stands beyond its ends goes on straight.
    Source: Barr, "Global and local deformations of solid primitives", SIGGRAPH 1984."""

    label = "Bend"
    help = "The axis of the box becomes a part of a circle."
    row_order = ("amount", "toward", "still")

    kind: Literal["bend"] = "bend"
    amount: Annotated[
        NumberRow,
        Driven(
            "Bend",
            DEGREES,
            -100_000,
            100_000,
            TURN / 2,
            TURN / 4,
            "By what angle the box's ends are bent against each other.",
            always=True,
        ),
    ] = number(TURN / 4)
    toward: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Toward", DEGREES, -100_000, 100_000, TURN / 2, 0.0, "Which way it bends, about the axis of the box."),
    ] = number(0)
    still: Annotated[
        NumberRow, Driven("Still at", PERCENT, 0, 1, 1, 0.0, "Where along the box nothing moves: 0 % at its low end.")
    ] = number(0)

    def moves(self, at: Reader, place: Values) -> Values:
        b, box = at.builder, self.boxed(at, place)
        (still,) = self.row(at, "still")
        turns = differs_from_default(self.toward, 0.0)
        cosine = sine = 0
        side = box.across
        if turns:
            (direction,) = self.row(at, "toward")
            cosine, sine = b.op("cos", direction), b.op("sin", direction)
            side = b.op("add", b.op("mul", box.across, cosine), b.op("mul", box.up, sine))
        bent = b.op("mul", box.long, b.op("sub", box.share, still))  # how far from where nothing moves, within the box
        angle = b.op("mul", self.how_much(at), b.op("sub", box.share, still))
        from_still = b.op("sub", box.along, b.op("mul", box.long, b.op("sub", still, b.const(0.5))))
        beyond = b.op("sub", from_still, bent)
        less, sin = cosine_less_one(b, angle), b.op("sin", angle)
        half = b.op("mul", angle, b.const(0.5))
        toward = b.op("mul", bent, b.op("mul", b.op("sin", half), sine_over(b, half)))
        toward = b.op("add", toward, b.op("add", b.op("mul", side, less), b.op("mul", beyond, sin)))
        along = b.op("mul", bent, b.op("sub", sine_over(b, angle), b.const(1)))
        along = b.op("add", along, b.op("sub", b.op("mul", beyond, less), b.op("mul", side, sin)))
        if not turns:
            return self.in_world(at, along, toward, b.const(0))
        return self.in_world(at, along, b.op("mul", toward, cosine), b.op("mul", toward, sine))
