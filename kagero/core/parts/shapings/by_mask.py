"""A shaping by a mask."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.units import METRES, PLAIN
from .base import ShapingPart


class ByMask(ShapingPart):
    """What enters a mask is moved, as much as the mask holds there, and comes back when it leaves: exactly to where it
    was."""

    label = "By a mask"
    help = "What enters a mask is moved, and comes back when it leaves."
    row_order = ("amount", "direction", "point")

    kind: Literal["by_mask"] = "by_mask"
    mask: Annotated[
        Uid | None,
        Refers("props", "mask", "{name} moves by a mask that is not there.", "Choose another."),
        Setting("Mask", "The mask that moves what enters it.", nothing="choose one"),
    ] = None
    along: Annotated[
        Literal["direction", "point"],
        Setting("Along", "Which way it moves.", choices=(("direction", "a direction"), ("point", "away from a point"))),
    ] = "direction"
    amount: Annotated[
        NumberRow,
        Driven(
            "By a mask", METRES, -100_000, 100_000, 2, 0.5, "How far it is moved where the mask is whole.", always=True
        ),
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

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        masks = [prop.uid for prop in effect.props if prop.mask]
        return {**data, "mask": masks[0]} if len(masks) == 1 else data

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.mask for prop in effect.props) else "There is no mask yet."

    def unused(self) -> frozenset[str]:
        return super().unused() | {"point" if self.along == "direction" else "direction"}

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("mask", "has no mask yet", "Choose one.") if self.mask is None else None

    def moves(self, at: Reader, place: Values) -> Values:
        b = at.builder
        if self.mask is None:
            return b.const(0), b.const(0), b.const(0)
        direction = self.row(at, "direction")
        if self.along == "point":
            direction = tuple(b.op("sub", x, p) for x, p in zip(place, self.row(at, "point"), strict=True))
        far = b.op("mul", self.how_much(at), at.mask_value(self.mask, place, at.clip_time()))
        far = b.op("div", far, b.op("max", b.op("length", *direction), b.const(1e-12)))
        return tuple(b.op("mul", w, far) for w in direction)
