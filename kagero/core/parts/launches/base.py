"""What a launch is: how a particle sets off."""

from __future__ import annotations

import math
from typing import Annotated, Any

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Part, new_rows
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number
from ...rows.union import OpenUnion
from ...rows.units import DEGREES, METRES, METRES_PER_SECOND, PERCENT
from ..places import BirthReader, PlacePart

Cone = Annotated[
    NumberRow,
    Driven(
        "Launch cone",
        DEGREES,
        0,
        math.pi,
        1.5,
        0.3,
        "Spread of directions: the angle from the launch direction to the cone's edge. 180° is every direction.",
    ),
]
Speed = Annotated[
    NumberRow, Driven("Launch speed", METRES_PER_SECOND, 0, 10_000, 4, 0.5, "How fast particles set off.", always=True)
]
Origin = Annotated[
    VectorRow,
    Driven(
        "Launch origin", METRES, -10_000, 10_000, 4, (0.0, 0.0, 0.0), "The point that particles are launched away from."
    ),
]
Inherit = Annotated[
    NumberRow,
    STRUCTURAL_IF_CHANGED,
    Driven(
        "Motion inherited",
        PERCENT,
        -100,
        100,
        2,
        0.0,
        "How much of the velocity of the place they are born at particles take on; negative is against it.",
    ),
]
INHERIT = number(0)


class LaunchPart(Part):
    """A kind of launch. Each has a cone and a share of the place's motion; most have a speed."""

    band, stage = "births", "birth"
    row_order = ("direction", "cone", "speed", "origin", "multiplier", "offset", "inherit")

    aim: str
    cone: NumberRow
    inherit: NumberRow

    @classmethod
    def rows_key(cls) -> str:
        return "births.launch"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"aim": LAUNCHES.tags(cls)[0], **new_rows(cls)}

    def row(self, at: BirthReader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"births.launch.{field}")

    def direction_of(self, at: BirthReader) -> Values:
        """Return where a particle sets off to; of any length."""
        raise NotImplementedError

    def speed_of(self, at: BirthReader, unit: Values) -> int:
        """Return how fast it does, m/s. unit: its direction, of length 1."""
        return self.row(at, "speed")[0]

    def velocity(self, at: BirthReader) -> Values:
        """Return the velocity at birth, m/s, with what is inherited of the place's."""
        b = at.builder
        (cone,), direction = self.row(at, "cone"), self.direction_of(at)
        unit = b.multi("cone_direction", *direction, cone, at.hash("launch 0"), at.hash("launch 1"))
        speed = self.speed_of(at, unit)
        own = tuple(b.op("mul", d, speed) for d in unit)
        place: PlacePart = at.view.thing.births.place
        if not place.bears or not differs_from_default(self.inherit, 0.0):
            return own
        (share,), moving = self.row(at, "inherit"), place.velocity(at)
        assert moving is not None
        return tuple(b.op("add", v, b.op("mul", m, share)) for v, m in zip(own, moving, strict=True))


def away(at: BirthReader, origin: Values) -> Values:
    """Return the way from a point through where a particle is born; of one born on that very point, along the normal,
    or as its own draw says."""
    b, place = at.builder, at.view.thing.births.place
    gap = tuple(b.op("sub", p, o) for p, o in zip(at.birthplace()[:3], origin, strict=True))
    here = b.op("less", b.op("length", *gap), b.const(1e-9))
    if place.faces_out():
        out = at.birthplace()[3:6]
    else:
        up = (b.const(0), b.const(1), b.const(0))
        out = b.multi("cone_direction", *up, b.const(math.pi), at.hash("origin 0"), at.hash("origin 1"))
    return tuple(b.op("select", here, n, a) for n, a in zip(out, gap, strict=True))


LAUNCHES = OpenUnion("launch", LaunchPart, "aim")
