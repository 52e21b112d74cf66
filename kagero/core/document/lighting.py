"""Particles as lamps: they light props and bodies near them."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ..formula import Values
from ..rows.example import Example, Suggestion
from ..rows.model import Driven, Part
from ..rows.reader import Reader
from ..rows.responses import ColourRow, NumberRow, number
from ..rows.units import METRES, PLAIN
from ..rows.writing import curve, row, source

MOST_LAMPS = 16


def _own_colour() -> ColourRow:
    """Return the row of the particle's own colour."""
    return ColourRow.model_validate(
        {"base": {"source": {"kind": "colour", "part": "whole"}, "read": "live"}, "responses": []}
    )


class Lighting(Part):
    """Particles light props, pieces and blobs near them; of all of an effect the brightest sixteen."""

    label = "Light"
    help = (
        "Particles light props, pieces and blobs near them. Of all there are, the brightest sixteen count: those whose "
        "light times reach is most."
    )
    band, stage = "look", "live"
    example = Example(fields={"strength": row(3.0), "reach": row(1.4)}, fixtures={"ball": {}})

    strength: Annotated[
        NumberRow,
        Driven(
            "Light",
            PLAIN,
            0,
            10_000,
            4,
            1.0,
            "How bright its light is: at 1 what is close and faces it is lit as by day.",
            always=True,
        ),
    ] = number(1)
    reach: Annotated[
        NumberRow,
        Driven(
            "Reach of the light",
            METRES,
            0.001,
            1000,
            2,
            1.0,
            "How far its light goes: it ends there, softly.",
            always=True,
        ),
    ] = number(1)
    light_colour: Annotated[
        ColourRow,
        Driven(
            "Colour of the light",
            PLAIN,
            0,
            64,
            1,
            (1.0, 1.0, 1.0),
            "In linear light; without another the particle's own.",
            always=True,
        ),
        Field(default_factory=_own_colour),
    ]

    @classmethod
    def rows_key(cls) -> str:
        return "light"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        fades = row(2.0, curve("new", source("life"), ((0, 1), (1, 0))))
        return (
            Suggestion("let them light what is near", {"strength": {"base": 2.0}}),
            Suggestion("let them light, less and less over life", {"strength": fades}),
        )

    def write(self, at: Reader) -> Values:
        """Return red, green and blue of the light, linear, and how far it reaches, metres."""
        b, strength = at.builder, at.row("light.strength")[0]
        colour = tuple(b.op("mul", c, strength) for c in at.row("light.light_colour"))
        return (*colour, *at.row("light.reach"))
