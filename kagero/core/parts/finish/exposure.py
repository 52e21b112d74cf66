"""More or less light."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import CONTENT, Driven
from ...rows.responses import NumberRow, number
from ...rows.units import STOPS
from .base import PLATE, FinishPart


class Exposure(FinishPart):
    """More or less light: each stop doubles it, or halves it."""

    label = "Exposure"
    over_plate = None

    kind: Literal["exposure"]
    plate: Annotated[bool, CONTENT, PLATE] = False
    stops: Annotated[
        NumberRow,
        Driven(
            "Exposure", STOPS, -20, 20, 4, 0.0, "Each stop doubles the light; below nought it halves it.", always=True
        ),
    ] = number(0)
