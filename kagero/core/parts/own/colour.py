"""A colour of an emitter's own."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from ...rows.responses import ColourRow, VectorRow, colour, vector
from .base import CHANGE, HIGH, LOW, START, High, Low, OwnPart


class OwnColour(OwnPart):
    help = "A colour in linear light."
    offers = (("Colour", "set at birth", "A colour a particle keeps from its birth.", "tint", {}),)

    label = "colour"

    kind: Literal["colour"]
    start: Annotated[ColourRow, replace(START, lowest=0, highest=64, default=(1.0, 1.0, 1.0))] = colour(1.0, 1.0, 1.0)
    change: Annotated[VectorRow, replace(CHANGE, default=(0.0, 0.0, 0.0))] = vector(0.0, 0.0, 0.0)
    lowest: Low = LOW
    highest: High = HIGH
