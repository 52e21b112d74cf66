"""A shaping along noise."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Values
from ...rows.model import Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import METRES, METRES_PER_SECOND, PERCENT
from .base import ShapingPart


class Wander(ShapingPart):
    """Places are moved along noise, each by what it is there. Sources: Perlin, "Improving noise", 2002; of swirls that
    press nothing together, Bridson, Hourihan and Nordenstam, "Curl-noise for procedural fluid flow", 2007."""

    label = "Along noise"
    help = "Places are moved along noise."
    row_order = ("amount", "scale", "evolution", "roughness")

    kind: Literal["wander"] = "wander"
    pattern: Annotated[
        Literal["turbulence", "curl_noise"],
        Setting("Pattern", "What it moves along.", choices=(("turbulence", "noise"), ("curl_noise", "swirls"))),
    ] = "turbulence"
    octaves: Annotated[int, Setting("Octaves", "How many sizes of features, each half as large as the one before.")] = (
        Field(default=2, ge=1, le=6)
    )
    amount: Annotated[
        NumberRow,
        Driven(
            "Along noise", METRES, -10_000, 10_000, 1, 0.2, "How far noise of strength 1 moves a place.", always=True
        ),
    ] = number(0.2)
    scale: Annotated[
        NumberRow, Driven("Scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the features.", always=True)
    ] = number(0.5)
    evolution: Annotated[
        NumberRow,
        Driven(
            "Evolution", METRES_PER_SECOND, 0, 10_000, 1, 0.0, "How fast the noise changes; 0 freezes it.", always=True
        ),
    ] = number(0)
    roughness: Annotated[
        NumberRow,
        Driven(
            "Roughness",
            PERCENT,
            0,
            1,
            1,
            0.5,
            "How strong each octave is after the one before: low is smooth, high is ragged.",
        ),
    ] = number(0.5)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "octaves": 2}

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"roughness"}) if self.octaves == 1 else frozenset())

    def moves(self, at: Reader, place: Values) -> Values:
        b = at.builder
        scale, evolution, roughness = (self.row(at, field)[0] for field in ("scale", "evolution", "roughness"))
        field = b.multi(
            self.pattern,
            *place,
            at.clip_time(),
            scale,
            evolution,
            roughness,
            attrs=(at.own_seed(self.uid, "noise"), self.octaves),
        )
        amount = self.how_much(at)
        return tuple(b.op("mul", value, amount) for value in field)
