"""Gravity."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow
from ...rows.step import Pushes
from ...rows.units import ACCELERATION
from .base import PushPart


class Gravity(PushPart):
    """A pull straight down, alike for all masses."""

    label = "Gravity"

    kind: Literal["gravity"] = "gravity"
    strength: Annotated[
        NumberRow, Driven("Gravity", ACCELERATION, -10_000, 10_000, 10, 9.81, "Pull straight down. 9.81 m/s² is the Earth's; negative pulls up.")
    ]

    def write(self, at: Reader, pushes: Pushes) -> None:
        pushes.accelerate(1, at.builder.op("neg", self.row(at, "strength")[0]))
