"""A cue changes the particle's size from then on."""

from __future__ import annotations

from typing import Annotated

from ...formula import Values
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import METRES, PERCENT
from .base import Deed, Happening


class Resize(Deed):
    """It multiplies the size, and adds to it."""

    deed_rows = ("sizes", "grows")

    sizes: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Size times",
            PERCENT,
            0,
            100,
            2,
            1.0,
            "What its size is multiplied by from then on: 0 % and more added sets it.",
        ),
    ] = number(1)
    grows: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Size added", METRES, -10_000, 10_000, 0.5, 0.0, "What is added to its size from then on."),
    ] = number(0)

    def deed_changes(self, attribute: str) -> bool:
        return attribute == "size" and (differs_from_default(self.sizes, 1.0) or differs_from_default(self.grows, 0.0))

    def deed_changed(self, at: Reader, attribute: str, values: Values) -> Values:
        if not Resize.deed_changes(self, attribute):
            return values
        b = at.builder
        times, grown = b.input(self.column("times")), b.input(self.column("grown"))
        return (b.op("max", b.op("add", b.op("mul", values[0], times), grown), b.const(0)),)

    def deed_columns(self, at: Reader) -> dict[str, int]:
        b = at.builder
        changes = Resize.deed_changes(self, "size")
        return {self.column("times"): b.const(1), self.column("grown"): b.const(0)} if changes else {}

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if not Resize.deed_changes(self, "size"):
            return
        b, by = at.builder, self.row(at, "sizes")[0]
        times, grown = b.input(self.column("times")), b.input(self.column("grown"))
        for name, before, value in (
            ("times", times, b.op("mul", times, by)),
            ("grown", grown, b.op("add", b.op("mul", grown, by), self.row(at, "grows")[0])),
        ):
            state.kept[self.column(name)] = b.op("guard", b.op("select", happening.fires, value, before), before)
