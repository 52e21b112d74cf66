"""Lift, gain, saturation, temperature."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import CONTENT, Driven
from ...rows.responses import ColourRow, NumberRow, colour, number
from ...rows.units import KELVIN, PERCENT, PLAIN
from .base import PLATE, FinishPart


class Grade(FinishPart):
    """Colours the picture: c becomes gain x (c + lift x (alpha - c)), then as if daylight had another temperature, then
    more or less saturated.

    The temperature's white is that of the CIE daylight locus (CIE 15:2018), taken from D65 by Bradford's adaptation
    (CIE 159:2004); saturation is about the luminance of ITU-R BT.709.
    """

    label = "Colour"
    help = "Lifts the dark, gains the bright, warms or cools, saturates."
    over_plate = None
    row_order = ("temperature", "saturation", "gain", "lift")

    kind: Literal["colour"]
    plate: Annotated[bool, CONTENT, PLATE] = False
    lift: Annotated[
        ColourRow,
        Driven("Lift", PLAIN, 0, 1, 0.2, (0.0, 0.0, 0.0), "What the darkest becomes, in linear light.", always=True),
    ] = colour(0, 0, 0)
    gain: Annotated[
        ColourRow, Driven("Gain", PLAIN, 0, 16, 1, (1.0, 1.0, 1.0), "What white becomes, in linear light.", always=True)
    ] = colour(1, 1, 1)
    saturation: Annotated[
        NumberRow, Driven("Saturation", PERCENT, 0, 4, 1, 1.0, "100 % as it is, 0 % without colour.", always=True)
    ] = number(1)
    temperature: Annotated[
        NumberRow,
        Driven(
            "Temperature",
            KELVIN,
            4000,
            25000,
            3000,
            6504.0,
            "The daylight it looks as if lit by; lower is warmer, 6504 K leaves it.",
            always=True,
        ),
    ] = number(6504)
