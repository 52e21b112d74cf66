"""Gravity."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs_from_default, vector
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, PLAIN
from .base import PushPart
from .space import Space

DOWN = (0.0, -1.0, 0.0)


class Gravity(PushPart):
    """A pull one way, straight down unless it says another, alike for all masses."""

    label = "Gravity"

    kind: Literal["gravity"] = "gravity"
    strength: Annotated[
        NumberRow,
        Driven(
            "Gravity",
            ACCELERATION,
            -10_000,
            10_000,
            10,
            9.81,
            "Pull straight down. 9.81 m/s² is the Earth's; negative pulls up.",
        ),
    ]
    direction: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Gravity direction", PLAIN, -1000, 1000, 2, DOWN, "Which way it pulls; its length does not matter."),
    ] = vector(*DOWN)

    def write(self, at: Reader, pushes: Pushes) -> None:
        b, (strength,) = at.builder, self.row(at, "strength")
        if differs_from_default(self.direction, DOWN):
            pushes.push(
                tuple(
                    b.op("mul", strength, component)
                    for component in Space(b, None, pushes.time).to_world(self.row(at, "direction"))
                )
            )
        else:
            pushes.accelerate(1, b.op("neg", strength))
