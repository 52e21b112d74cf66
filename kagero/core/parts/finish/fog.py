"""Air that dims what is far."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.responses import ColourRow, NumberRow, colour, number
from ...rows.units import METRES, PER_METRE, PLAIN
from .base import FinishPart


class Fog(FinishPart):
    """Air takes the light of what is far, and gives its own: of what is d metres away exp(-density (d - begins)) is
    left (Beer and Lambert)."""

    label = "Fog"
    help = "Air takes the light of what is far, and gives its own."
    acts, some = "air", False

    kind: Literal["fog"]
    density: Annotated[
        NumberRow,
        Driven("Density", PER_METRE, 0, 100, 0.2, 0.1, "How much of the light each metre takes.", always=True),
    ] = number(0.1)
    begins: Annotated[
        NumberRow, Driven("Begins", METRES, 0, 100_000, 4, 0.0, "How far from the camera it begins.", always=True)
    ] = number(0)
    fog_colour: Annotated[
        ColourRow,
        Driven(
            "Colour of the fog",
            PLAIN,
            0,
            64,
            1,
            (0.05, 0.065, 0.075),
            "What far things turn into, in linear light.",
            always=True,
        ),
    ] = colour(0.05, 0.065, 0.075)
