"""Particles end when nobody sees them any more."""

from __future__ import annotations

from functools import reduce
from typing import Annotated, Any

from ..rows.example import Example, Suggestion
from ..rows.model import Driven, Part
from ..rows.reader import Reader
from ..rows.responses import NumberRow, number
from ..rows.step import Phase, StepState
from ..rows.units import FRAMES
from ..rows.writing import curve, row, source

SHOWN, UNSEEN = "unseen.shown", "unseen.for"
FAINTEST = 1 / 512  # opacity below which eight bits show nothing
SMALLEST = 1e-6  # m


class Unseen(Part):
    """A particle that has been seen ends when no look shows it, for so many frames: opacity or size is nought. At its
    birth it may be unseen as long as it likes."""

    label = "When nobody sees it"
    help = (
        "A particle that has been seen ends once its opacity or size has been nought for so many frames. Before it is "
        "first seen it may wait."
    )
    band, stage = "endings", "live"
    example = Example(
        fields={"frames": row(2.0)},
        emitter={"look": {"opacity": row(1.0, curve("faint", source("life"), ((0, 1), (0.5, 0), (1, 0))))}},
    )

    frames: Annotated[
        NumberRow,
        Driven(
            "Unseen for",
            FRAMES,
            1,
            10_000,
            24,
            2.0,
            "For how many frames of the clip opacity or size have to be nought.",
            always=True,
        ),
    ] = number(2)

    @classmethod
    def rows_key(cls) -> str:
        return "unseen"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        fades = {"responses": [curve("new", source("life"), ((0, 1), (0.5, 0), (1, 0)))]}
        return (
            Suggestion("add it"),
            Suggestion("fade out by half of life, and end there", emitter={"look": {"opacity": fades}}),
        )

    def carried(self, at: Any) -> dict[str, int]:
        return {SHOWN: at.builder.const(0), UNSEEN: at.builder.const(0)}

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "remember":
            return
        b, thing, one = at.builder, at.view.thing, at.builder.const(1)
        b.row = "unseen"
        looks = [("look", thing.look), *((f"also.{look.uid}", look) for look in thing.also)]
        seen = reduce(
            lambda some, more: b.op("max", some, more),
            (
                b.op(
                    "mul",
                    b.op("less", b.const(SMALLEST), at.row(f"{address}.size")[0]),
                    b.op("less", b.const(FAINTEST), at.row(f"{address}.opacity")[0]),
                )
                for address, look in looks
                if not look.muted
            ),
            b.const(0),
        )
        state.kept[SHOWN] = b.op("max", b.input(SHOWN), seen)
        unseen = b.op("select", seen, b.const(0), b.op("add", b.input(UNSEEN), state.dt))
        state.kept[UNSEEN] = unseen
        half = b.op("mul", state.dt, b.const(0.5))  # of a step: sums of steps are not exact
        long = b.op("less_equal", b.op("sub", b.op("div", at.row("unseen.frames")[0], at.frame_rate()), half), unseen)  # type: ignore[attr-defined]
        state.end(b.op("mul", b.op("mul", b.input(SHOWN), long), b.op("sub", one, seen)), one)
