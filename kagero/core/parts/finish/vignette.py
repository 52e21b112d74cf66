"""Darker toward the corners."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT
from .base import FinishPart


class Vignette(FinishPart):
    """Darker toward the corners: by the amount times smoothstep(begins, begins + softness, r), r the distance from the
    middle, 100 % in the corners."""

    label = "Vignette"
    help = "Darker toward the corners."
    some, over_plate = False, None

    kind: Literal["vignette"]
    amount: Annotated[
        NumberRow,
        Driven(
            "Amount", PERCENT, -1, 1, 1, 0.4, "How much darker the corners are; below nought brighter.", always=True
        ),
    ] = number(0.4)
    begins: Annotated[
        NumberRow,
        Driven(
            "Begins", PERCENT, 0, 2, 1, 0.4, "From how far from the middle on; 100 % is in the corners.", always=True
        ),
    ] = number(0.4)
    softness: Annotated[
        NumberRow, Driven("Softness", PERCENT, 0.01, 2, 1, 0.7, "Over how much of that way it comes.", always=True)
    ] = number(0.7)
