"""A launch guided by a mesh."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.model import Driven, Guide, Refers, Setting, Uid
from ...rows.responses import NumberRow, number, vector
from ...rows.slots import OfProp
from ...rows.units import METRES_PER_SECOND, PER_SECOND
from ..places import BirthReader
from .base import INHERIT, Cone, Inherit, LaunchPart, Origin, away


class Guided(LaunchPart):
    """Away from a point, as fast as a guide mesh is far from the particle in that direction: multiplier x distance +
    offset."""

    label = "guided by a mesh"
    help = "Away from a point, as fast as a guide mesh is far from the particle in that direction."
    guides = (Guide("cross", at="origin"),)

    aim: Literal["guided"]
    guide: Annotated[
        Uid | None,
        Refers(
            "props",
            "guiding",
            "A guided burst needs a mesh to be guided by.",
            "Choose a shape or mesh as its guide.",
            needed=True,
        ),
        Setting("Guide", "The mesh whose distance gives the speed.", nothing="choose a mesh"),
    ] = None
    cone: Cone
    origin: Origin = vector(0.0, 0.0, 0.0)
    multiplier: Annotated[
        NumberRow,
        Driven(
            "Speed per metre of guide",
            PER_SECOND,
            -10_000,
            10_000,
            4,
            1.0,
            "Speed for each metre between the particle and the guide mesh, in the direction it is launched.",
        ),
    ] = number(1)
    offset: Annotated[
        NumberRow,
        Driven(
            "Speed added",
            METRES_PER_SECOND,
            -10_000,
            10_000,
            4,
            0.0,
            "Added to the speed that the guide gives; the speed is never below nought. Negative: only the parts the "
            "guide bulges toward fly.",
        ),
    ] = number(0)
    inherit: Inherit = INHERIT

    def on_stage(self, thing: Any) -> Iterator[tuple[str, str, str]]:
        yield "speed", "speeds", "How fast the guide sends particles."

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.guiding for prop in effect.props) else "There is no mesh or shape to guide it."

    def direction_of(self, at: BirthReader) -> Values:
        return away(at, self.row(at, "origin"))

    def speed_of(self, at: BirthReader, unit: Values) -> int:
        b = at.builder
        assert self.guide is not None
        far = b.op("prop_reach", *at.birthplace()[:3], *unit, b.input("birth_time"), attrs=(OfProp(self.guide),))
        (times,), (plus,) = self.row(at, "multiplier"), self.row(at, "offset")
        return b.op("max", b.op("add", b.op("mul", far, times), plus), b.const(0))
