"""Toward a target."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.step import Pushes
from ...rows.units import METRES_PER_SECOND, PER_SECOND
from .base import FadingPush


class TowardTarget(FadingPush):
    """Each particle to a target of its own, slowing as it arrives. The emitter's targets say where they are."""

    label = "Toward its target"

    kind: Literal["toward_target"] = "toward_target"
    strength: Annotated[
        NumberRow,
        Driven(
            "Toward target", PER_SECOND, 0, 10_000, 4, 2.0, "How quickly it turns to fly to its target; 0 not at all."
        ),
    ]
    speed: Annotated[
        NumberRow,
        Driven(
            "Toward target at",
            METRES_PER_SECOND,
            0,
            10_000,
            4,
            1.5,
            "How fast it flies there, at the reach and beyond it.",
        ),
    ] = number(1.5)

    def unused(self) -> frozenset[str]:
        return super().unused() | frozenset({"space"})

    def relies_on(self) -> tuple[str, ...]:
        return ("target",)

    def write(self, at: Reader, pushes: Pushes) -> None:
        target = at.view.thing.target
        if target is None:
            return
        b = at.builder
        gap = tuple(b.op("sub", t, x) for t, x in zip(target.place(at, pushes.time), pushes.place, strict=True))
        soft, factor = self.fade(at, b.op("length", *gap))
        speed = b.op("div", b.op("mul", self.row(at, "speed")[0], factor), soft)
        (rate,) = self.row(at, "strength")
        pushes.couple(rate)
        pushes.push(tuple(b.op("mul", rate, b.op("mul", speed, g)) for g in gap))
