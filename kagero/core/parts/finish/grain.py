"""Grain of film."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT, PIXELS
from .base import FinishPart


class Grain(FinishPart):
    """Light that varies from grain to grain, anew every frame: by amount x sqrt(light) x noise, as the noise of counted
    light goes (Poisson)."""

    label = "Grain"
    help = "Light varies from grain to grain, anew every frame."
    some, linear, over_plate = False, False, None

    kind: Literal["grain"]
    coloured: Annotated[bool, CONTENT, Setting("in colour", "Whether red, green and blue vary each by itself.")] = False
    amount: Annotated[
        NumberRow,
        Driven("Amount", PERCENT, 0, 2, 0.2, 0.06, "How much white varies: the standard deviation.", always=True),
    ] = number(0.06)
    size: Annotated[
        NumberRow,
        Driven(
            "Grain size",
            PIXELS,
            1,
            64,
            4,
            1.5,
            "How large grains are, in pixels of the frame at its full size.",
            always=True,
        ),
    ] = number(1.5)
