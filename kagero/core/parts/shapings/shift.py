"""A shift."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.model import Driven, Guide, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.slots import OfProp
from ...rows.units import METRES, PLAIN
from .base import ShapingPart

ALONG = (("direction", "a direction"), ("point", "away from a point"), ("surface", "a surface’s normal"))


class Shift(ShapingPart):
    """All is moved along a direction, away from a point, or along the normal of a surface where that is nearest."""

    label = "Shift"
    help = "All is moved along a direction, away from a point, or along a surface’s normal."
    guides = (Guide("cross", at="point", moved=True),)
    row_order = ("amount", "direction", "point")

    kind: Literal["shift"] = "shift"
    along: Annotated[
        Literal["direction", "point", "surface"], Setting("Along", "Which way it moves.", choices=ALONG)
    ] = "direction"
    prop: Annotated[
        Uid | None,
        Refers(
            "props",
            "solid",
            "{name} goes along the surface of a prop that is not there.",
            "Choose another, or a direction.",
        ),
        Setting("of", "The prop whose surface it goes by.", nothing="choose one"),
    ] = None
    amount: Annotated[
        NumberRow, Driven("Shift", METRES, -100_000, 100_000, 2, 0.5, "How far it is moved.", always=True)
    ] = number(0.5)
    direction: Annotated[
        VectorRow,
        Driven(
            "Direction", PLAIN, -1000, 1000, 2, (0.0, 1.0, 0.0), "Which way; its length does not matter.", always=True
        ),
    ] = vector(0.0, 1.0, 0.0)
    point: Annotated[
        VectorRow,
        Driven("Point", METRES, -100_000, 100_000, 2, (0.0, 0.0, 0.0), "What it is moved away from.", always=True),
    ] = vector(0.0, 0.0, 0.0)

    def unused(self) -> frozenset[str]:
        return super().unused() | ({"direction", "point", "prop"} - {"prop" if self.along == "surface" else self.along})

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [prop for prop in effect.props if prop.solid and not prop.mask]
            if field == "prop"
            else super().named_by(field, effect, thing)
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        if self.along == "surface" and self.prop is None:
            return "prop", "goes along no surface yet", "Choose a prop, or a direction."
        return None

    def moves(self, at: Reader, place: Values) -> Values:
        b = at.builder
        if self.along == "direction":
            direction = self.row(at, "direction")
        elif self.along == "point":
            direction = tuple(b.op("sub", x, p) for x, p in zip(place, self.row(at, "point"), strict=True))
        elif self.prop is None:
            return b.const(0), b.const(0), b.const(0)
        else:
            direction = b.multi("prop_nearest", *place, at.clip_time(), attrs=(OfProp(self.prop),))[3:6]
        far = b.op("div", self.how_much(at), b.op("max", b.op("length", *direction), b.const(1e-12)))
        return tuple(b.op("mul", w, far) for w in direction)
