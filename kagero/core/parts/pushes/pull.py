"""A pull."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.model import Driven, Guide, Refers, Setting, Uid
from ...rows.reader import Reader, weighted
from ...rows.responses import NumberRow, VectorRow, vector
from ...rows.slots import OfProp
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, METRES, PLAIN
from .base import FadingPush


class Pull(FadingPush):
    """To a point, a line, or a prop: its place, its middle or the nearest place on it (of a path too). Negative, it
    pushes away."""

    label = "Pull"
    guides = (Guide("falloff", at="point", radius="reach", core="core", moved=True),)

    kind: Literal["pull"] = "pull"
    to: Annotated[
        Literal["point", "line", "place", "middle", "surface"],
        Setting(
            "Pulls to",
            "What it pulls to.",
            choices=(
                ("point", "a point"),
                ("line", "a line"),
                ("place", "a prop’s place"),
                ("middle", "a prop’s middle"),
                ("surface", "the nearest place on a prop"),
            ),
        ),
    ] = "point"
    prop: Annotated[
        Uid | None,
        Refers("props", "placed", "{name} pulls to a prop that is not there.", "Choose another, or a point."),
        Setting("of", "The prop that it pulls to.", nothing="choose one"),
    ] = None
    strength: Annotated[
        NumberRow,
        Driven("Pull", ACCELERATION, -10_000, 10_000, 10, 2.0, "How strongly it pulls; negative pushes away."),
    ]
    point: Annotated[
        VectorRow,
        Driven(
            "Pull point", METRES, -10_000, 10_000, 2, (0.0, 1.0, 0.0), "Where it pulls to; of a line, a point of it."
        ),
    ] = vector(0.0, 1.0, 0.0)
    direction: Annotated[
        VectorRow,
        Driven(
            "Pull line", PLAIN, -1000, 1000, 2, (0.0, 1.0, 0.0), "Which way the line runs; its length does not matter."
        ),
    ] = vector(0.0, 1.0, 0.0)

    @property
    def of_prop(self) -> bool:
        return self.to in ("place", "middle", "surface")

    def unused(self) -> frozenset[str]:
        idle = (
            {"point", "direction", "space"}
            if self.of_prop
            else {"prop"} | (set() if self.to == "line" else {"direction"})
        )
        return super().unused() | frozenset(idle)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field == "prop" and self.to == "surface":
            return [prop for prop in effect.props if prop.solid and not prop.mask]
        return super().named_by(field, effect, thing)

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        if self.of_prop and self.prop is None:
            return "prop", "pulls to no prop yet", "Choose one, or let it pull to a point."
        return None

    def gap(self, at: Reader, pushes: Pushes) -> Values:
        """Return the way from the particle to what it is pulled to, metres."""
        b = at.builder
        if self.of_prop:
            if self.prop is None:
                return b.const(0), b.const(0), b.const(0)
            if self.to == "surface":
                there = b.multi("prop_nearest", *pushes.place, pushes.time, attrs=(OfProp(self.prop),))[:3]
            elif self.to == "middle":
                there = b.multi("prop_middle", pushes.time, attrs=(OfProp(self.prop),))
            else:
                m = b.multi("prop_matrix", pushes.time, attrs=(OfProp(self.prop),))
                there = (m[3], m[7], m[11])
            return tuple(b.op("sub", t, x) for t, x in zip(there, pushes.place, strict=True))
        space = self.frame(at, pushes)
        gap = tuple(b.op("sub", t, x) for t, x in zip(space.point(self.row(at, "point")), pushes.place, strict=True))
        if self.to == "line":
            direction = space.to_world(self.row(at, "direction"))
            along = weighted(b, gap, direction)
            gap = tuple(b.op("sub", g, b.op("mul", along, w)) for g, w in zip(gap, direction, strict=True))
        return gap

    def write(self, at: Reader, pushes: Pushes) -> None:
        b = at.builder
        gap = self.gap(at, pushes)
        soft, factor = self.fade(at, b.op("length", *gap))
        strength = b.op("div", b.op("mul", self.row(at, "strength")[0], factor), soft)
        pushes.push(tuple(b.op("mul", strength, g) for g in gap))
