"""How light becomes what a screen can show."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import NumberRow, number
from ...rows.units import PLAIN
from .base import FinishPart


class ToneCurve(FinishPart):
    """Light l becomes l (1 + l / w²) / (1 + l): w becomes white, and what is brighter is cut (Reinhard, Stark, Shirley
    and Ferwerda, "Photographic tone reproduction for digital images", SIGGRAPH 2002, equation 4). Without such an item
    light above white is cut."""

    label = "Tone curve"
    help = "Bright light is rolled off toward white instead of being cut there."
    some, linear, over_plate = False, False, None

    kind: Literal["tone_curve"]
    on: Annotated[
        Literal["luminance", "channels"],
        CONTENT,
        Setting(
            "Goes by",
            "The luminance keeps hues; red, green and blue each by itself let what is very bright turn white.",
            choices=(("luminance", "luminance"), ("channels", "each of red, green and blue")),
        ),
    ] = "channels"
    white: Annotated[
        NumberRow, Driven("Becomes white", PLAIN, 0.1, 1000, 8, 8.0, "The light that becomes white.", always=True)
    ] = number(8)
