"""What ends particles before their lifespan does."""

from __future__ import annotations

from typing import Annotated, Any

from ..rows.example import Example, Suggestion
from ..rows.model import Driven, Part
from ..rows.reader import Reader
from ..rows.responses import NumberRow, number
from ..rows.step import Phase, StepState
from ..rows.units import PERCENT
from ..rows.writing import curve, row, source


class Ending(Part):
    """Where a particle ends: as soon as its row is half or more, as the particle stands when a step begins."""

    label = "Ends where"
    help = (
        "A particle ends as soon as this is half or more: above a height, in a mask, near a prop, once it has arrived."
    )
    band, stage = "endings", "live"
    example = Example(
        fields={
            "where": row(
                0.0, curve("above", source("height"), ((0, 0), (0.5, 1)), input=(0, 2.4), operation="add", shape="hold")
            )
        }
    )

    where: Annotated[
        NumberRow,
        Driven(
            "Ends where",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Half or more ends it. Drive it by a height, a mask, a distance, whether it has arrived.",
        ),
    ] = number(0)

    @classmethod
    def rows_key(cls) -> str:
        return "ending"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        height, life = (
            {"responses": [curve("new", by, ((0, 0), (0.5, 1)), input=span, operation="add", shape="hold")]}
            for by, span in ((source("height"), (0.0, 2.0)), (source("life"), (0.0, 1.0)))
        )
        return Suggestion("end above a height", {"where": height}), Suggestion("end at half of life", {"where": life})

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase == "turn":
            b = at.builder
            b.row = "ending"
            state.end(b.op("less_equal", b.const(0.5), at.row("ending.where")[0]), b.const(1))
