"""Buoyancy."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow
from ...rows.step import Pushes
from ...rows.units import ACCELERATION
from .base import PushPart


class Buoyancy(PushPart):
    """A lift straight up, alike for all masses."""

    label = "Buoyancy"

    kind: Literal["buoyancy"] = "buoyancy"
    strength: Annotated[
        NumberRow,
        Driven("Buoyancy", ACCELERATION, -10_000, 10_000, 4, 0.6, "Lift straight up, as warm air lifts embers."),
    ]

    def write(self, at: Reader, pushes: Pushes) -> None:
        pushes.accelerate(1, self.row(at, "strength")[0])
