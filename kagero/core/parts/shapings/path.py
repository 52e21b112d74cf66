"""A shaping to a path."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...program import Group, PropQuery, Slot
from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.slots import DocumentView
from ...rows.units import PERCENT
from ...rows.view import Owner, find_thing
from .base import BoxedShaping


@dataclass(frozen=True)
class PathOfShaping(Slot[DocumentView]):
    """What a shaping asks of the path that it goes by."""

    owner: Owner
    shaping: str
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        shaping: Any = find_thing(document.thing(self.owner).shaping, self.shaping)
        return PropQuery(shaping.prop, f"{document.query(shaping.prop).digest} {shaping.edge}", shaping)


class AlignToPath(BoxedShaping):
    """The box's axis is laid onto a path, and what stands across it across the path, in the frame that is carried along
    without turning (Bishop, "There is more than one way to frame a curve", 1975). Beyond the box's ends it goes on
    straight."""

    label = "To a path"
    help = "The axis of the box is laid onto a path, and all about it follows."
    row_order = ("amount", "begins", "ends")
    edge: ClassVar[str] = "hold"

    kind: Literal["path"] = "path"
    prop: Annotated[
        Uid | None,
        Refers("props", "line", "{name} goes by a path that is not there.", "Choose another."),
        Setting("Path", "The path that the box's axis is laid onto.", nothing="choose one"),
    ] = None
    amount: Annotated[
        NumberRow,
        Driven("To the path", PERCENT, 0, 1, 1, 1.0, "How much of the way it goes: 100 % all of it.", always=True),
    ] = number(1)
    begins: Annotated[
        NumberRow,
        Driven(
            "Begins",
            PERCENT,
            -100,
            100,
            1,
            0.0,
            "Where along the path, by its length, the low end of the box comes to lie.",
            always=True,
        ),
    ] = number(0)
    ends: Annotated[
        NumberRow,
        Driven(
            "Ends",
            PERCENT,
            -100,
            100,
            1,
            1.0,
            "Where along the path, by its length, the high end of the box comes to lie.",
            always=True,
        ),
    ] = number(1)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [prop for prop in effect.props if prop.line] if field == "prop" else super().named_by(field, effect, thing)
        )

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.line for prop in effect.props) else "There is no path to align to."

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        lines = [prop.uid for prop in effect.props if prop.line]
        return {**data, "prop": lines[0]} if len(lines) == 1 else data

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "goes by no path yet", "Choose one.") if self.prop is None else super().unmet_need(effect)

    def moves(self, at: Reader, place: Values) -> Values:
        b = at.builder
        if self.prop is None:
            return b.const(0), b.const(0), b.const(0)
        box = self.boxed(at, place)
        where = b.op("mix", self.row(at, "begins")[0], self.row(at, "ends")[0], box.share)
        found_there = b.multi(
            "prop_along", where, b.const(0), at.clip_time(), attrs=(PathOfShaping(at.owner, self.uid),)
        )
        point, tangent, normal, binormal = found_there[:3], found_there[3:6], found_there[6:9], found_there[9:12]
        beyond = b.op("sub", box.along, b.op("mul", box.long, b.op("sub", box.share, b.const(0.5))))
        amount, moved = self.how_much(at), []
        for i in range(3):
            there = b.op("add", point[i], b.op("mul", tangent[i], beyond))
            there = b.op(
                "add", there, b.op("add", b.op("mul", normal[i], box.across), b.op("mul", binormal[i], box.up))
            )
            moved.append(b.op("mul", amount, b.op("sub", there, place[i])))
        return tuple(moved)
