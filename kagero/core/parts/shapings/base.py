"""What a shaping is: a displacement of particles that are already simulated, from each frame alone."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...program import Builder
from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, FieldFacts, Guide, Part, Setting, Uid, new_rows
from ...rows.reader import Reader, weighted
from ...rows.responses import VectorRow, differs_from_default, vector
from ...rows.union import OpenUnion
from ...rows.units import DEGREES, METRES
from ...rows.writing import row

LEAST = 1e-6  # metres: a box is no thinner in what divides by its size
UPRIGHT = (0.0, 0.0, 0.0)


class ShapingPart(Part):
    """A kind of shaping. Each has a uid, by which its rows are addressed.

    Its rows read particles as they are simulated; what it moves is where those before it have brought them. Where its
    amount is nought it moves nothing, by exactly nought. amount: the row that says how much.
    """

    band, stage = "shaping", "live"
    amount_row: ClassVar[str] = "amount"

    kind: str
    uid: Uid
    muted: bool = False
    everyone: Annotated[
        bool, Setting("All emitters", "It moves the particles of every emitter, after their own shapings.")
    ] = False

    @classmethod
    def rows_key(cls) -> str:
        return f"shaping.{SHAPINGS.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": SHAPINGS.tags(cls)[0], **new_rows(cls)}

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return (
            driven
            if driven is None or facts.name == self.amount_row
            else replace(driven, label=f"{self.label} {driven.label.lower()}")
        )

    def strength_row(self) -> str:
        return self.amount_row

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"shaping.{self.uid}.{field}")

    def how_much(self, at: Reader) -> int:
        return self.row(at, self.amount_row)[0]

    def moves(self, at: Reader, place: Values) -> Values:
        """Return by how much it moves a place, metres in the world; exactly nought where its amount is nought."""
        raise NotImplementedError


@dataclass(frozen=True)
class Boxed:
    """A place as a box sees it. along, across, up: metres from its middle, by the axis it is shaped along and the two
    others, right-handed; share: how far along, 0 at the low end, 1 at the high end, held there beyond; long: how long
    the box is along that axis, metres."""

    along: int
    across: int
    up: int
    share: int
    long: int


class BoxedShaping(ShapingPart):
    """A shaping within a box. The box is numbers, so that it does not breathe with the particles. Beyond its ends what
    happens at the end goes on, rigidly."""

    guides = (Guide("box", at="middle", size="size", turn="turn", moved=True),)
    rows_last = ("middle", "size", "turn")
    example = Example(fields={"middle": row([0.0, 0.85, 0.0]), "size": row([0.7, 1.5, 0.7])})

    axis: Annotated[
        Literal["x", "y", "z"],
        Setting(
            "Along", "The axis of its box that it acts along.", choices=(("x", "x"), ("y", "y, upward"), ("z", "z"))
        ),
    ] = "y"
    middle: Annotated[
        VectorRow,
        Driven("Middle", METRES, -100_000, 100_000, 2, (0.0, 1.0, 0.0), "The middle of its box.", always=True),
    ] = vector(0.0, 1.0, 0.0)
    size: Annotated[
        VectorRow,
        Driven("Size", METRES, 0, 100_000, 2, (2.0, 2.0, 2.0), "Width, height and depth of its box.", always=True),
    ] = vector(2.0, 2.0, 2.0)
    turn: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Turn",
            DEGREES,
            -360,
            360,
            3,
            UPRIGHT,
            "How its box is turned: rolled about z, tilted about x, then turned about y.",
        ),
    ] = vector(*UPRIGHT)

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        base = self.size.base
        if isinstance(base, tuple) and not self.size.responses and base["xyz".index(self.axis)] <= 0:
            return "size", f"has a box of no size along {self.axis}", "Take the clip's box, or make it larger."
        return None

    def axes(self, at: Reader) -> list[Values]:
        """Return the box's axes in the world, the one it acts along first, then the two others, right-handed."""
        b = at.builder
        first = "xyz".index(self.axis)
        if not differs_from_default(self.turn, UPRIGHT):
            units = [tuple(b.const(1.0 if i == k else 0.0) for i in range(3)) for k in range(3)]
        else:
            units = list(zip(*turned(b, self.row(at, "turn")), strict=True))
        return [units[(first + k) % 3] for k in range(3)]

    def boxed(self, at: Reader, place: Values) -> Boxed:
        """Return a place of the world as the box sees it."""
        b = at.builder
        gap = tuple(b.op("sub", x, m) for x, m in zip(place, self.row(at, "middle"), strict=True))
        first = "xyz".index(self.axis)
        if not differs_from_default(self.turn, UPRIGHT):
            along, across, up = (gap[(first + k) % 3] for k in range(3))
        else:
            along, across, up = (weighted(b, gap, axis) for axis in self.axes(at))
        long = b.op("max", self.row(at, "size")[first], b.const(LEAST))
        return Boxed(along, across, up, b.op("clamp", b.op("add", b.op("div", along, long), b.const(0.5))), long)

    def in_world(self, at: Reader, along: int, across: int, up: int) -> Values:
        """Return a displacement in the box as one in the world."""
        b = at.builder
        if not differs_from_default(self.turn, UPRIGHT):
            first = "xyz".index(self.axis)
            components = [0, 0, 0]
            components[first], components[(first + 1) % 3], components[(first + 2) % 3] = along, across, up
            return tuple(components)
        axes = self.axes(at)
        return tuple(weighted(b, (along, across, up), tuple(axis[i] for axis in axes)) for i in range(3))


def turned(b: Builder, angles: Values) -> list[Values]:
    """Return the rows of the matrix that rolls about z, tilts about x, then turns about y, as props are turned."""
    (cx, sx), (cy, sy), (cz, sz) = ((b.op("cos", a), b.op("sin", a)) for a in angles)

    def mul(*values: int) -> int:
        product = values[0]
        for value in values[1:]:
            product = b.op("mul", product, value)
        return product

    return [
        (b.op("add", mul(cy, cz), mul(sy, sx, sz)), b.op("sub", mul(sy, sx, cz), mul(cy, sz)), mul(sy, cx)),
        (mul(cx, sz), mul(cx, cz), b.op("neg", sx)),
        (b.op("sub", mul(cy, sx, sz), mul(sy, cz)), b.op("add", mul(sy, sz), mul(cy, sx, cz)), mul(cy, cx)),
    ]


def cosine_less_one(b: Builder, angle: int) -> int:
    """Return cos(angle) - 1 without loss for small angles: exactly nought at nought."""
    half = b.op("sin", b.op("mul", angle, b.const(0.5)))
    return b.op("mul", b.const(-2), b.op("mul", half, half))


def sine_over(b: Builder, angle: int) -> int:
    """Return sin(angle) / angle, 1 at nought."""
    return b.op("select", angle, b.op("div", b.op("sin", angle), b.op("select", angle, angle, b.const(1))), b.const(1))


SHAPINGS = OpenUnion("shaping", ShapingPart)
