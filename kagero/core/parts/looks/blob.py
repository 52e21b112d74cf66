"""One surface round all of an emitter's particles: drops that run together and part again."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Values
from ...rows.model import VALUE, Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, number
from ...rows.units import METRES, PERCENT, PLAIN
from .base import COVER, DRAWN, SOFT, Column, LookPart


class BlobLook(LookPart):
    """One surface round all particles: those that come near each other run together."""

    label = "Blobs"
    help = "One surface round all particles, as drops have it: those that come near each other run together, and part again."
    columns = (*DRAWN, COVER, SOFT, Column("level", 1, "<f4", PERCENT, 1.0), Column("smooth", 1, "<f4", PLAIN, 1.6))
    surfaces = True

    sprite: Literal["blob"] = "blob"
    cell: Annotated[
        float,
        VALUE,
        Field(gt=0, le=100),
        Setting(
            "Cell", "How large the cells are that the surface is found in: no drop should be smaller. Coarser while a hand moves something.", METRES
        ),
    ] = 0.02
    gloss: Annotated[float, VALUE, Field(ge=0, le=4), Setting("Gleam", "How much of a gleam its surface has.", PERCENT)] = 0.4
    lit: Annotated[bool, Setting("Lit", "Shaded by the light that props stand in; else it shines in its own colour.")] = True

    size: Annotated[NumberRow, Driven("Size", METRES, 0, 10_000, 0.4, 0.12, "How wide a particle alone is, at a level of 100 %.", always=True)]
    opacity: Annotated[
        NumberRow, Driven("Opacity", PERCENT, 0, 1, 1, 1.0, "How much of what lies behind is covered; mixed where they run together.", always=True)
    ]
    colour: Annotated[
        ColourRow, Driven("Colour", PLAIN, 0, 64, 1, (0.9, 0.55, 0.16), "Colour in linear light; mixed where they run together.", always=True)
    ]
    smooth: Annotated[
        NumberRow,
        Driven(
            "Smoothness",
            PLAIN,
            1.05,
            6,
            2,
            1.6,
            "How far beyond its own surface a particle reaches for others, in its own size: more runs together sooner.",
            "emitter",
            always=True,
        ),
    ] = number(1.6)
    level: Annotated[
        NumberRow,
        Driven(
            "Level",
            PERCENT,
            0.01,
            100,
            1,
            1.0,
            "Where in the field the surface is: at 100 % a particle alone is as large as it says; more makes all thinner.",
            "emitter",
            always=True,
        ),
    ] = number(1)

    def unused(self) -> frozenset[str]:
        off = {"order", "stands", "soft"} | (set() if self.lit else {"gloss"})
        return super().unused() | off

    def given(self) -> frozenset[str]:
        return frozenset({"size", "opacity", "colour", "level", "smooth"}) | (self.meets() - {"soft"})

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        rows = {name: at.row(f"{address}.{name}") for name in ("size", "opacity", "level", "smooth")}
        covering = {name: value for name, value in self.covering(at, address).items() if name != "soft"}
        return {**rows, "colour": self.tinted(at, address), **covering}

    def drawn_by(self) -> dict[str, Any]:
        return {**super().drawn_by(), "surface": True, "lit": self.lit, "gloss": self.gloss, "stands": "depth"}
