"""Particles as dust and smoke that fills space: thick where they are many, drawn through."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Values
from ...rows.example import Example
from ...rows.model import VALUE, Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, number
from ...rows.units import METRES, PER_METRE, PERCENT, PLAIN
from ...rows.writing import row
from .base import COVER, DRAWN, SOFT, Column, LookPart


class HazeLook(LookPart):
    """Dust and smoke that fills space, thick where particles are many: what is behind is seen through it, the less the
    more there is."""

    label = "Haze"
    help = (
        "Dust and smoke that fills space: each particle is a soft puff of it, and what is behind shows through, the "
        "less the more there is."
    )
    columns = (*DRAWN, COVER, SOFT, Column("density", 1, "<f4", PER_METRE, 1.0))
    surfaces = True
    example = Example(variants=({"density": row(3.0)},))

    sprite: Literal["haze"] = "haze"
    how: Annotated[
        Literal["lit", "absorbing", "adding"],
        Setting(
            "It",
            "Lit from above and by lamps, its own shadow in it; of its own colour alone; or only adding light and "
            "hiding nothing.",
            choices=(("lit", "is lit"), ("absorbing", "has its own colour"), ("adding", "adds light")),
        ),
    ] = "lit"
    cell: Annotated[
        float,
        VALUE,
        Field(gt=0, le=100),
        Setting(
            "Cell",
            "How large the cells are that it is counted in: a third of a puff is enough. Coarser while a hand moves "
            "something.",
            METRES,
        ),
    ] = 0.1

    size: Annotated[
        NumberRow,
        Driven(
            "Size",
            METRES,
            0,
            10_000,
            0.4,
            0.6,
            "How wide a particle's puff is: thick in its middle, nothing at its edge.",
            always=True,
        ),
    ]
    opacity: Annotated[
        NumberRow, Driven("Opacity", PERCENT, 0, 1, 1, 1.0, "How much of its density there is.", always=True)
    ]
    colour: Annotated[
        ColourRow,
        Driven("Colour", PLAIN, 0, 64, 1, (0.6, 0.62, 0.65), "Colour in linear light; mixed by density.", always=True),
    ]
    density: Annotated[
        NumberRow,
        Driven(
            "Density",
            PER_METRE,
            0,
            10_000,
            4,
            1.0,
            "How much a metre of it takes, in the middle of a puff: at 1 /m a metre leaves 37 % of the light.",
            always=True,
        ),
    ] = number(1)

    def unused(self) -> frozenset[str]:
        return super().unused() | {"order", "stands", "soft", "blend", "added", "lit"}

    def given(self) -> frozenset[str]:
        return frozenset({"size", "opacity", "colour", "density"})

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        return {
            **{name: at.row(f"{address}.{name}") for name in ("size", "opacity", "density")},
            "colour": self.tinted(at, address),
        }

    def drawn_by(self) -> dict[str, Any]:
        return {**super().drawn_by(), "surface": True, "blend": "over", "stands": "depth", "how": self.how}
