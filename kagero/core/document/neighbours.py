"""Neighbours: within which distance the particles of an emitter see each other."""

from __future__ import annotations

from typing import Annotated, Any

from ..rows.example import Example, Suggestion
from ..rows.model import Driven, Part
from ..rows.neighbour_state import CLOSEST, NEIGHBOUR_VALUES, RADIUS
from ..rows.reader import Reader
from ..rows.responses import NumberRow, number
from ..rows.step import Phase, StepState
from ..rows.units import METRES
from ..rows.writing import source


class Neighbours(Part):
    """Who is near whom among an emitter's particles: pushes and sources read it. It is looked at as each step ends, for
    the next."""

    label = "Neighbours"
    help = (
        "Particles of the emitter see each other within a distance: how many are near is a source, and a push keeps "
        "them apart or together."
    )
    band, stage = "motion", "live"
    example = Example(beside=("force:neighbours",))

    within: Annotated[
        NumberRow,
        Driven(
            "Neighbours within",
            METRES,
            0,
            1000,
            1,
            0.25,
            "How far a particle sees others of its emitter; of more than 256 some are left out.",
        ),
    ] = number(0.25)

    @classmethod
    def rows_key(cls) -> str:
        return "motion.near"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        count = source("neighbours", part="count")
        return (
            Suggestion("add it, and let them keep apart", beside=("force:neighbours",)),
            Suggestion("add it, and colour by how many are near", drives=(count, (0.0, 20.0))),
        )

    def carried(self, at: Reader) -> dict[str, int]:
        none, (radius,) = at.builder.const(0), at.row("motion.near.within")
        return {RADIUS: radius} | {name: radius if name == CLOSEST else none for name in NEIGHBOUR_VALUES}

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase == "remember":
            at.builder.row = "motion.near"
            state.kept[RADIUS] = at.row("motion.near.within")[0]
