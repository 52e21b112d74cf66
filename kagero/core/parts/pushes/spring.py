"""A spring."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.model import Driven, Guide, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.slots import OfProp
from ...rows.step import Pushes
from ...rows.units import METRES, PER_SECOND, PER_SECOND_SQUARED
from .base import PlacedPush


class Spring(PlacedPush):
    """To a place, a prop, the particle's own target or where it was born; exact for any stiffness and step."""

    label = "Spring"
    guides = (Guide("cross", at="point", moved=True),)
    example = Example(variants=({"to": "point"},))

    kind: Literal["spring"] = "spring"
    to: Annotated[
        Literal["point", "place", "target", "birth"],
        Setting(
            "Holds to",
            "Where it is at rest.",
            choices=(
                ("point", "a point"),
                ("place", "a prop’s place"),
                ("target", "its own target"),
                ("birth", "where it was born"),
            ),
        ),
    ] = "point"
    prop: Annotated[
        Uid | None,
        Refers("props", "placed", "{name} holds to a prop that is not there.", "Choose another, or a point."),
        Setting("of", "The prop that it holds to.", nothing="choose one"),
    ] = None
    strength: Annotated[
        NumberRow,
        Driven(
            "Spring",
            PER_SECOND_SQUARED,
            0,
            1e8,
            40,
            10.0,
            "Stiffness: the push for each metre away, in m/s². It swings once in 2π over its root: 39.5 swings once a "
            "second.",
        ),
    ]
    damping: Annotated[
        NumberRow,
        Driven(
            "Spring damping",
            PER_SECOND,
            0,
            1e6,
            10,
            2.0,
            "How quickly the swinging dies; twice the root of the stiffness stops it soonest.",
        ),
    ] = number(2)
    point: Annotated[
        VectorRow, Driven("Spring point", METRES, -10_000, 10_000, 2, (0.0, 1.0, 0.0), "Where it is at rest.")
    ] = vector(0.0, 1.0, 0.0)

    def unused(self) -> frozenset[str]:
        return super().unused() | frozenset(
            {*(() if self.to == "point" else ("point", "space")), *(() if self.to == "place" else ("prop",))}
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        if self.to == "place" and self.prop is None:
            return "prop", "holds to no prop yet", "Choose one, or let it hold to a point."
        return None

    def relies_on(self) -> tuple[str, ...]:
        return ("target",) if self.to == "target" else ()

    def rest(self, at: Reader, pushes: Pushes) -> tuple[Values, Values | None] | None:
        """Return where it is at rest (m) and how that moves (m/s; None: it stands); None where there is no such
        place."""
        b = at.builder
        if self.to == "target":
            target = at.view.thing.target
            return None if target is None else target.moving(at, pushes.time)
        if self.to == "birth":
            return at.kept_from_birth("birth_position", 3, lambda birth: birth.birthplace()[:3]), None
        if self.to == "place":
            if self.prop is None:
                return None
            m = b.multi("prop_matrix", pushes.time, attrs=(OfProp(self.prop),))
            return (m[3], m[7], m[11]), b.multi("prop_velocity", pushes.time, attrs=(OfProp(self.prop),))
        return self.frame(at, pushes).point(self.row(at, "point")), None

    def write(self, at: Reader, pushes: Pushes) -> None:
        b, rest = at.builder, self.rest(at, pushes)
        if rest is None:
            return
        place, velocity = rest
        (damping,) = self.row(at, "damping")
        pushes.spring(self.row(at, "strength")[0], place)
        pushes.couple(damping)
        if velocity is not None:
            pushes.push(tuple(b.op("mul", damping, v) for v in velocity))
