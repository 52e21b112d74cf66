"""Light that spreads around what is bright."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import ColourRow, NumberRow, colour, number
from ...rows.units import FACTOR, PERCENT, PIXELS, PLAIN
from .base import FinishPart


class Glow(FinishPart):
    """Light spreads around what is bright: blurs, each wider and fainter than the one before, are added back.

    Of light l above a threshold t with a soft knee k, in the brightest of its three colours, (l - t + k)² / 4k counts
    between t - k and t + k, all above, so that it sets in without an edge. Widths are standard deviations of Gaussians.
    Widths that double while shares halve are common practice.
    """

    label, linear = "Glow", False
    help = "Light spreads around what is bright: blurs, each wider and fainter than the one before, are added back."
    row_order = ("strength", "width", "tint", "threshold", "knee", "wider", "fainter")

    kind: Literal["glow"]
    blurs: Annotated[
        int, CONTENT, Field(ge=1, le=8), Setting("Blurs", "How many blurs are added, each wider than the one before.")
    ] = 3
    strength: Annotated[
        NumberRow,
        Driven(
            "Strength",
            PERCENT,
            0,
            20,
            1,
            0.5,
            "How much of the blurred light is added back: of the first blur so much.",
            always=True,
        ),
    ] = number(0.5)
    width: Annotated[
        NumberRow,
        Driven(
            "Width",
            PIXELS,
            0.25,
            400,
            40,
            8.0,
            "How wide the first blur is: its standard deviation, in pixels of the frame at its full size.",
            always=True,
        ),
    ] = number(8)
    wider: Annotated[
        NumberRow,
        Driven(
            "Each wider", FACTOR, 1, 8, 2, 2.0, "How many times wider each blur is than the one before.", always=True
        ),
    ] = number(2)
    fainter: Annotated[
        NumberRow,
        Driven("Each fainter", FACTOR, 0, 2, 1, 0.5, "How much of the one before each blur adds.", always=True),
    ] = number(0.5)
    threshold: Annotated[
        NumberRow, Driven("Threshold", PLAIN, 0, 64, 2, 0.0, "From what light on it glows; white is 1.", always=True)
    ] = number(0)
    knee: Annotated[
        NumberRow,
        Driven(
            "Knee",
            PLAIN,
            0,
            64,
            1,
            0.25,
            "Over how much light, below and above the threshold, glowing sets in.",
            always=True,
        ),
    ] = number(0.25)
    tint: Annotated[
        ColourRow,
        Driven("Tint", PLAIN, 0, 16, 1, (1.0, 1.0, 1.0), "What the glow's light is multiplied by.", always=True),
    ] = colour(1, 1, 1)
