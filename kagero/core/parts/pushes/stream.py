"""A stream along a path."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

from ...rows.model import Driven, FieldFacts, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.slots import OfProp
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, METRES_PER_SECOND, PER_SECOND
from .base import FadingPush


class Stream(FadingPush):
    """Along a path, and back toward it for whoever has strayed."""

    label = "Stream"
    compiles = "streams"

    kind: Literal["stream"] = "stream"
    path: Annotated[
        Uid | None,
        Refers("props", "line", "{name} runs along a path that is not there.", "Choose another."),
        Setting("along", "The path that it runs along.", nothing="choose one"),
    ] = None
    by: Annotated[
        Literal["push", "speed"],
        Setting(
            "Works as",
            "A push speeds up for as long as it acts; flowing air has a speed that particles take on.",
            choices=(("push", "a push"), ("speed", "flowing air")),
        ),
    ] = "speed"
    strength: Annotated[
        NumberRow,
        Driven(
            "Stream",
            ACCELERATION,
            -10_000,
            10_000,
            4,
            1.0,
            "How strongly it drives along the path; negative the other way.",
        ),
    ]
    back: Annotated[
        NumberRow,
        Driven(
            "Stream back",
            ACCELERATION,
            -10_000,
            10_000,
            4,
            0.5,
            "How strongly it draws toward the path; negative drives away.",
        ),
    ] = number(0.5)
    coupling: Annotated[
        NumberRow,
        Driven(
            "Stream coupling", PER_SECOND, 0, 10_000, 4, 2.0, "How quickly a particle takes on the flow's velocity."
        ),
    ] = number(2)

    def unused(self) -> frozenset[str]:
        return super().unused() | frozenset({"space", *(() if self.by == "speed" else ("coupling",))})

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = super().driven(facts)
        speed = driven is not None and self.by == "speed" and facts.name in ("strength", "back")
        return replace(driven, unit=METRES_PER_SECOND) if speed and driven is not None else driven

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.line for prop in effect.props) else "There is no path to run along."

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return (
            ("path", "runs along no path yet", "Choose one, or draw one among the props.")
            if self.path is None
            else None
        )

    def write(self, at: Reader, pushes: Pushes) -> None:
        if self.path is None:
            return
        b = at.builder
        found = b.multi("prop_nearest", *pushes.place, pushes.time, attrs=(OfProp(self.path),))
        gap = tuple(b.op("sub", t, x) for t, x in zip(found[:3], pushes.place, strict=True))
        soft, factor = self.fade(at, found[6])
        factor = factor if self.by == "speed" else b.op("mul", factor, pushes.inverse_mass)
        along = b.op("mul", self.row(at, "strength")[0], factor)
        back = b.op("div", b.op("mul", self.row(at, "back")[0], factor), soft)
        target = tuple(
            b.op("add", b.op("mul", along, t), b.op("mul", back, g)) for t, g in zip(found[3:6], gap, strict=True)
        )
        if self.by == "speed":
            pushes.carry(b.op("mul", self.row(at, "coupling")[0], pushes.inverse_mass), target)
        else:
            pushes.push(target)
