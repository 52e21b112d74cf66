"""A launch in a direction."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Driven, Guide, Setting
from ...rows.reader import weighted
from ...rows.responses import VectorRow
from ...rows.slots import OfProp
from ...rows.units import PLAIN
from ..places import BirthReader
from .base import INHERIT, Cone, Inherit, LaunchPart, Speed


class InDirection(LaunchPart):
    """The same direction for all. space: whether it is the world's or turns with the prop that births are on."""

    label = "in a direction"
    help = "The same direction for all, in the world's space or turning with the prop."
    guides = (Guide("arrow", direction="direction"),)

    aim: Literal["direction"] = "direction"
    direction: Annotated[
        VectorRow,
        Driven(
            "Launch direction",
            PLAIN,
            -1_000,
            1_000,
            2,
            (0.0, 1.0, 0.0),
            "Where particles set off to; only the direction counts, not the length.",
        ),
    ]
    space: Annotated[
        Literal["world", "own"],
        Setting(
            "The direction is",
            "Whether it turns with the prop.",
            choices=(("world", "the world's"), ("own", "the prop's")),
        ),
    ] = "world"
    cone: Cone
    speed: Speed
    inherit: Inherit = INHERIT

    def direction_of(self, at: BirthReader) -> Values:
        b, direction = at.builder, self.row(at, "direction")
        prop = at.view.thing.births.place.prop_on()
        if self.space == "world" or prop is None:
            return direction
        m = b.multi("prop_matrix", b.input("birth_time"), attrs=(OfProp(prop),))
        return tuple(weighted(b, direction, m[4 * i : 4 * i + 3]) for i in range(3))
