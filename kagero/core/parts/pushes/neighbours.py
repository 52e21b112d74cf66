"""Neighbours."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.neighbour_state import AWAY, COUNT, MIDDLE, VELOCITY
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, PER_SECOND, PER_SECOND_SQUARED
from .base import PushPart


class NeighbourPush(PushPart):
    """Particles of an emitter keep apart, follow each other and keep together within the distance at which they see
    each other.

    The three rules of Reynolds, "Flocks, herds, and schools: a distributed behavioral model", SIGGRAPH 1987. What is
    near is that of the step's start: of order one in its length.
    """

    label = "Neighbours"
    compiles = "neighbours"

    kind: Literal["neighbours"] = "neighbours"
    strength: Annotated[
        NumberRow,
        Driven(
            "Keep apart",
            ACCELERATION,
            -10_000,
            10_000,
            6,
            2.0,
            "The push from each neighbour: this much where they touch, less further off.",
        ),
    ]
    follow: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Follow", PER_SECOND, 0, 10_000, 4, 0.0, "How quickly it takes on the mean velocity of its neighbours."),
    ] = number(0)
    together: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Keep together",
            PER_SECOND_SQUARED,
            -10_000,
            10_000,
            6,
            0.0,
            "The push to the middle of its neighbours for each metre from it.",
        ),
    ] = number(0)

    def strength_row(self) -> str:
        return "share"

    def relies_on(self) -> tuple[str, ...]:
        return ("motion", "near")

    def write(self, at: Reader, pushes: Pushes) -> None:
        if at.newborn or at.view.thing.motion.near is None:
            return
        b = at.builder
        strength, follow, together = (self.row(at, name)[0] for name in ("strength", "follow", "together"))
        some = b.op("less", b.const(0), b.input(COUNT))
        pushes.carry(b.op("mul", follow, some), tuple(b.input(name) for name in VELOCITY))
        pushes.push(
            tuple(
                b.op(
                    "mul",
                    pushes.inverse_mass,
                    b.op("add", b.op("mul", strength, b.input(away)), b.op("mul", together, b.input(middle))),
                )
                for away, middle in zip(AWAY, MIDDLE, strict=True)
            )
        )
