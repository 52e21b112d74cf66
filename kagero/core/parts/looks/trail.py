"""A trail: where a particle was in the last so many seconds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...rows.example import Example
from ...rows.model import Driven, Setting
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT, SECONDS, Unit
from .strand import StrandLook

LONGEST = 30.0  # seconds


class Trail(StrandLook):
    """A line through where each particle was in the last so many seconds, as long as it lived."""

    label = "Trail"
    help = "A line through where each particle was in the last so many seconds, as long as it lived."
    of_particle = ("seconds",)
    example = Example(variants=({"drawn_with": "shelf", "shelf": "scrap", "faces": "flat", "blend": "between"},))

    sprite: Literal["trail"] = "trail"
    detail: Annotated[
        int,
        Field(ge=1, le=240),
        Setting(
            "Places a second", "Through how many places a second it goes; the same at any frame rate.", Unit("/s", 1, 0)
        ),
    ] = 24
    seconds: Annotated[
        NumberRow,
        Driven(
            "Goes back",
            SECONDS,
            0,
            LONGEST,
            2,
            0.5,
            "It goes through where the particle was in the last so many seconds.",
            always=True,
        ),
    ] = number(0.5)
    taper: Annotated[
        NumberRow,
        Driven(
            "Taper",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "Over which share of its length it narrows to nothing, at its far end.",
            always=True,
        ),
    ] = number(1)
    fade: Annotated[
        NumberRow,
        Driven(
            "Fade",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "Over which share of its length it fades to nothing, at its far end.",
            always=True,
        ),
    ] = number(1)
