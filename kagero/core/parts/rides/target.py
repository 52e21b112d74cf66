"""Sitting at a target."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.example import Example
from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.step import StepState
from ...rows.writing import row
from .base import Ridden, RidePart


class TargetRide(RidePart):
    """Each particle sits at its own target and is carried by it: once it has arrived, or from the start."""

    label = "Sit at target"
    example = Example(fields={"when": "always", "grip": row(8.0)})
    compiles = "gathering"

    kind: Literal["target"] = "target"
    when: Annotated[
        Literal["arrived", "always"],
        Setting("Holds", "From when on.", choices=(("arrived", "once it has arrived"), ("always", "from the start"))),
    ] = "arrived"

    def acts(self, at: Reader) -> bool:
        target = at.view.thing.target
        return super().acts(at) and target is not None and target.prop is not None

    def relies_on(self) -> tuple[str, ...]:
        return ("target",)

    def ridden(self, at: Reader, kept: dict[str, int]) -> Ridden:
        return Ridden(at.view.thing.target.place(at, at.clip_time()))

    def grips(self, at: Reader, state: StepState | None, grip: int) -> int:
        if self.when == "always":
            return grip
        return at.builder.op("select", at.view.thing.target.arrived(at)[0], grip, at.builder.const(0))
