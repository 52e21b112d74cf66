"""A streak: a line along where a particle is going, as a shutter that stays open sees it, or as long as a row says."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.example import Example
from ...rows.model import Driven, Setting
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.units import METRES, PERCENT, PLAIN, SECONDS
from ...rows.writing import row
from .strand import StrandLook


class Streak(StrandLook):
    """A straight line from each particle back along where it came from, or along a direction."""

    label = "Streak"
    help = "A straight line from each particle back along where it came from, or along a direction."
    of_particle = ("shutter", "length", "direction", "stands_at")
    example = Example(fields={"shutter": row(0.12)}, variants=({"lies_along": "direction", "long_by": "length"},))

    sprite: Literal["streak"] = "streak"
    lies_along: Annotated[
        Literal["velocity", "direction"],
        Setting(
            "Along", "Which way it lies.", choices=(("velocity", "where it came from"), ("direction", "a direction"))
        ),
    ] = "velocity"
    long_by: Annotated[
        Literal["shutter", "length"],
        Setting(
            "As long as",
            "What says how long it is.",
            choices=(("shutter", "its way while a shutter is open"), ("length", "a length")),
        ),
    ] = "shutter"
    shutter: Annotated[
        NumberRow,
        Driven(
            "Shutter",
            SECONDS,
            0,
            60,
            0.2,
            0.04,
            "How long the shutter is open: it is as long as the particle goes in that time.",
            always=True,
        ),
    ] = number(0.04)
    length: Annotated[NumberRow, Driven("Length", METRES, 0, 10_000, 1, 0.2, "How long it is.", always=True)] = number(
        0.2
    )
    direction: Annotated[
        VectorRow,
        Driven(
            "Direction",
            PLAIN,
            -1,
            1,
            1,
            (0.0, 1.0, 0.0),
            "Which way it lies from the particle; its length does not count.",
            always=True,
        ),
    ] = vector(0, 1, 0)
    stands_at: Annotated[
        NumberRow,
        Driven(
            "Particle stands at",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Where along the streak the particle is: 0 at its head, 50 % in the middle.",
        ),
    ] = number(0)
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

    def unused(self) -> frozenset[str]:
        off = {"length"} if self.long_by == "shutter" else {"shutter"}
        return super().unused() | off | ({"direction"} if self.lies_along == "velocity" else set())
