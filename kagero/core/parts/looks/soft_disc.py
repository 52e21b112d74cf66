"""A disc, soft or sharp, round or stretched."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, differs_from_default, number
from ...rows.units import METRES, PERCENT, PLAIN
from .base import COVER, DRAWN, SOFT, Column, LookPart


class SoftDisc(LookPart):
    """A disc that is full in the middle and goes out toward its edge, softly or at once."""

    label = "Disc"
    help = "A disc that is full in the middle and goes out toward its edge, softly or at once."
    columns = (
        *DRAWN,
        Column("stretch", 1, "<f2", PLAIN, 1.0),
        Column("hardness", 1, "<f2", PERCENT, 0.0),
        COVER,
        SOFT,
    )

    sprite: Literal["soft_disc"] = "soft_disc"
    size: Annotated[
        NumberRow,
        Driven("Size", METRES, 0, 10_000, 0.4, 0.1, "Diameter of the drawn disc, along its longest.", always=True),
    ]
    stretch: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Stretch", PLAIN, 1, 100, 4, 1.0, "How many times longer than wide a particle is drawn; 1 is round."),
    ] = number(1)
    hardness: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Hardness",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How far out a disc is full: 0 goes out from its middle on, 100 % has a sharp edge.",
        ),
    ] = number(0)
    opacity: Annotated[
        NumberRow,
        Driven(
            "Opacity",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "How much of what lies behind is covered, or how much light is added.",
            always=True,
        ),
    ]
    colour: Annotated[
        ColourRow,
        Driven(
            "Colour",
            PLAIN,
            0,
            64,
            1,
            (1.0, 0.6, 0.2),
            "Colour in linear light. Above 1 it is brighter than paper white.",
            always=True,
        ),
    ]

    @classmethod
    def rows_key(cls) -> str:
        return "look"

    def given(self) -> frozenset[str]:
        long = {"stretch", "rotation"} if differs_from_default(self.stretch, 1.0) else set()
        hard = {"hardness"} if differs_from_default(self.hardness, 0.0) else set()
        return frozenset({"size", "opacity", "colour", *long, *hard}) | self.meets()

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        rows = {name: at.row(f"{address}.{name}") for name in ("size", "opacity", "stretch", "hardness")}
        return {**rows, "colour": self.tinted(at, address), **self.covering(at, address)}
