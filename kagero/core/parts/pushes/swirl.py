"""A swirl."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, FieldFacts, Guide, Setting
from ...rows.reader import Reader, weighted
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, METRES, METRES_PER_SECOND, PER_SECOND, PLAIN
from .base import FadingPush

UP = (0.0, 1.0, 0.0)


class Swirl(FadingPush):
    """Round an axis, of its own or a prop's: a push, or air that turns; with a part inward and one along the axis. With
    the power -1 and a core it is the vortex of Kaufmann (1962) and Scully: solid within the core, free outside."""

    label = "Swirl"
    guides = (Guide("axis", at="middle", radius="reach", direction="axis", core="core", moved=True),)
    example = Example(variants=({"fades": "power", "by": "speed"},))

    kind: Literal["swirl"] = "swirl"
    by: Annotated[
        Literal["push", "speed"],
        Setting(
            "Works as",
            "A push speeds up for as long as it acts; air has a speed that particles take on.",
            choices=(("push", "a push"), ("speed", "turning air")),
        ),
    ] = "push"
    strength: Annotated[
        NumberRow,
        Driven(
            "Swirl",
            ACCELERATION,
            -10_000,
            10_000,
            6,
            2.0,
            "How strongly it drives round, anticlockwise seen against the axis; negative the other way.",
        ),
    ]
    inward: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Swirl inward",
            ACCELERATION,
            -10_000,
            10_000,
            6,
            0.0,
            "How strongly it draws to the axis; negative drives outward.",
        ),
    ] = number(0)
    along: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Swirl along", ACCELERATION, -10_000, 10_000, 6, 0.0, "How strongly it drives along the axis."),
    ] = number(0)
    coupling: Annotated[
        NumberRow,
        Driven(
            "Swirl coupling",
            PER_SECOND,
            0,
            10_000,
            4,
            2.0,
            "How quickly a particle takes on the turning air's velocity.",
        ),
    ] = number(2)
    middle: Annotated[
        VectorRow, Driven("Swirl middle", METRES, -10_000, 10_000, 2, (0.0, 0.0, 0.0), "Where the axis stands.")
    ] = vector(0.0, 0.0, 0.0)
    axis: Annotated[
        VectorRow,
        Driven("Swirl axis", PLAIN, -1000, 1000, 2, UP, "Which way the axis runs; its length does not matter."),
    ] = vector(*UP)
    height: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Swirl height",
            METRES,
            0,
            10_000,
            4,
            0.0,
            "How far along the axis, either way, it fades to nothing; 0: it does not fade with height.",
        ),
    ] = number(0)

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"coupling"}) if self.by == "push" else frozenset())

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = super().driven(facts)
        speed = driven is not None and self.by == "speed" and facts.name in ("strength", "inward", "along")
        return replace(driven, unit=METRES_PER_SECOND) if speed and driven is not None else driven

    def strength_row(self) -> str:
        return "share"  # of all that it does: round, inward and along

    def write(self, at: Reader, pushes: Pushes) -> None:
        b, space = at.builder, self.frame(at, pushes)
        axis = space.to_world(self.row(at, "axis"))
        gap = tuple(b.op("sub", x, m) for x, m in zip(pushes.place, space.point(self.row(at, "middle")), strict=True))
        up = weighted(b, gap, axis)
        out = tuple(b.op("sub", g, b.op("mul", up, a)) for g, a in zip(gap, axis, strict=True))
        soft, factor = self.fade(at, b.op("length", *out))
        if differs_from_default(self.height, 0.0):
            (height,) = self.row(at, "height")
            share = b.op("clamp", b.op("div", b.op("abs", up), b.op("max", height, b.const(1e-6))))
            left = b.op("sub", b.const(1), b.op("mul", share, share))
            factor = b.op("mul", factor, b.op("select", b.op("equal", height, b.const(0)), b.const(1), left))
        factor = factor if self.by == "speed" else b.op("mul", factor, pushes.inverse_mass)
        round_it, into = b.op("div", b.op("mul", self.row(at, "strength")[0], factor), soft), None
        components = []
        if differs_from_default(self.inward, 0.0):
            into = b.op("div", b.op("mul", self.row(at, "inward")[0], factor), soft)
        rise = b.op("mul", self.row(at, "along")[0], factor) if differs_from_default(self.along, 0.0) else None
        for i in range(3):
            j, k = (i + 1) % 3, (i + 2) % 3
            across = b.op("sub", b.op("mul", axis[j], out[k]), b.op("mul", axis[k], out[j]))
            value = b.op("mul", round_it, across)
            value = value if into is None else b.op("sub", value, b.op("mul", into, out[i]))
            components.append(value if rise is None else b.op("add", value, b.op("mul", rise, axis[i])))
        if self.by == "speed":
            pushes.carry(b.op("mul", self.row(at, "coupling")[0], pushes.inverse_mass), tuple(components))
        else:
            pushes.push(tuple(components))
