"""A cue changes the particle's colour from then on."""

from __future__ import annotations

from typing import Annotated

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, colour, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import PERCENT, PLAIN
from .base import Deed, Happening


class TakeColour(Deed):
    """It takes on a colour."""

    deed_rows = ("tints", "tint")

    tints: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Takes on a colour by",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How much of its colour that one takes the place of from then on.",
        ),
    ] = number(0)
    tint: Annotated[
        ColourRow, Driven("The colour", PLAIN, 0, 64, 1, (1.0, 1.0, 1.0), "The colour that it takes on, linear light.")
    ] = colour(1, 1, 1)

    def deed_unused(self) -> frozenset[str]:
        return frozenset() if differs_from_default(self.tints, 0.0) else frozenset({"tint"})

    def deed_changes(self, attribute: str) -> bool:
        return attribute == "colour" and differs_from_default(self.tints, 0.0)

    def deed_changed(self, at: Reader, attribute: str, values: Values) -> Values:
        if not TakeColour.deed_changes(self, attribute):
            return values
        b = at.builder
        return tuple(
            b.op("mix", value, b.input(self.column(f"tint.{i}")), b.input(self.column("tinted")))
            for i, value in enumerate(values)
        )

    def deed_columns(self, at: Reader) -> dict[str, int]:
        if not TakeColour.deed_changes(self, "colour"):
            return {}
        return {self.column(name): at.builder.const(0) for name in ("tinted", "tint.0", "tint.1", "tint.2")}

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if not TakeColour.deed_changes(self, "colour"):
            return
        b = at.builder
        values = {"tinted": self.row(at, "tints")[0]}
        values |= {f"tint.{i}": value for i, value in enumerate(self.row(at, "tint"))}
        for name, value in values.items():
            before = b.input(self.column(name))
            state.kept[self.column(name)] = b.op("guard", b.op("select", happening.fires, value, before), before)
