"""Wind."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number
from ...rows.step import Pushes
from ...rows.units import METRES_PER_SECOND, PER_METRE, PER_SECOND
from .base import PushPart


class Wind(PushPart):
    """Moving air that particles are taken along by, the slower the heavier they are."""

    label = "Wind"

    kind: Literal["wind"] = "wind"
    velocity: Annotated[
        VectorRow, Driven("Wind", METRES_PER_SECOND, -10_000, 10_000, 4, (1.0, 0.0, 0.0), "Velocity of the moving air.")
    ]
    coupling: Annotated[
        NumberRow,
        Driven(
            "Wind coupling",
            PER_SECOND,
            0,
            10_000,
            4,
            0.5,
            "How quickly a particle takes on the wind's velocity; 1 /s closes 63 % of the difference each second.",
        ),
    ]
    squared: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Wind on a body",
            PER_METRE,
            0,
            10_000,
            2,
            0.0,
            "Coupling with the square of the speed against the wind, as on a leaf or drop.",
        ),
    ] = number(0)

    def strength_row(self) -> str:
        return "coupling"

    def write(self, at: Reader, pushes: Pushes) -> None:
        b, velocity = at.builder, self.row(at, "velocity")
        pushes.carry(b.op("mul", self.row(at, "coupling")[0], pushes.inverse_mass), velocity)
        if differs_from_default(self.squared, 0.0):
            pushes.slow_squared(b.op("mul", self.row(at, "squared")[0], pushes.inverse_mass), velocity)
