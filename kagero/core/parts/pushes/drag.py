"""Drag."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow
from ...rows.step import Pushes
from ...rows.units import PER_SECOND
from .base import PushPart


class Drag(PushPart):
    """Still air that slows particles, the less the heavier they are."""

    label = "Drag"

    kind: Literal["drag"] = "drag"
    rate: Annotated[
        NumberRow, Driven("Drag", PER_SECOND, 0, 10_000, 4, 0.8, "How quickly still air slows a particle; 1 /s takes 63 % of its speed each second.")
    ]

    def write(self, at: Reader, pushes: Pushes) -> None:
        pushes.couple(at.builder.op("mul", self.row(at, "rate")[0], pushes.inverse_mass))
