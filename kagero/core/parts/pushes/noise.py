"""What curl noise and turbulence have in common."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar

from pydantic import Field

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.step import Pushes
from ...rows.units import METRES, METRES_PER_SECOND, PERCENT
from .base import PlacedPush

STILL = (0.0, 0.0, 0.0)


class NoisePush(PlacedPush):
    """A push by a pattern of noise. operation: which one."""

    rows_last = ("scale", "evolution", "roughness", "drift", "share")
    operation: ClassVar[str] = ""

    scale: Annotated[NumberRow, Driven("Scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the swirls.")]
    evolution: Annotated[
        NumberRow,
        Driven("Evolution", METRES_PER_SECOND, 0, 10_000, 1, 0.2, "How fast the swirls change; 0 freezes them."),
    ]
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
    drift: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Drift", METRES_PER_SECOND, -10_000, 10_000, 2, STILL, "The velocity at which the whole pattern moves."),
    ] = vector(*STILL)
    octaves: Annotated[int, Setting("Octaves", "How many sizes of swirls, each half as large as the one before.")] = (
        Field(default=1, ge=1, le=6)
    )

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "octaves": 2}

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"roughness"}) if self.octaves == 1 else frozenset())

    def write(self, at: Reader, pushes: Pushes) -> None:
        b, space = at.builder, self.frame(at, pushes)
        place = space.local(pushes.place)
        if differs_from_default(self.drift, STILL):
            place = tuple(
                b.op("sub", x, b.op("mul", v, pushes.time)) for x, v in zip(place, self.row(at, "drift"), strict=True)
            )
        scale, evolution, roughness = (self.row(at, field)[0] for field in ("scale", "evolution", "roughness"))
        seed = at.own_seed(self.uid, "noise")
        field = b.multi(self.operation, *place, pushes.time, scale, evolution, roughness, attrs=(seed, self.octaves))
        strength = b.op("mul", self.row(at, "strength")[0], pushes.inverse_mass)
        pushes.push(tuple(b.op("mul", value, strength) for value in space.turned(field)))
