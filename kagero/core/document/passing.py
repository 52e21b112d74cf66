"""How particles come and go: they fade, shrink and slow in the first and last share of their lives."""

from __future__ import annotations

from typing import Annotated, Any

from ..formula import Values
from ..program import Builder
from ..rows.example import Example, Suggestion
from ..rows.model import STRUCTURAL_IF_CHANGED, Driven, Part
from ..rows.reader import Reader
from ..rows.responses import NumberRow, differs_from_default, number
from ..rows.step import Phase, StepState
from ..rows.units import PERCENT
from ..rows.writing import row

LEAST = 1e-3  # of its speed that is left to a particle that slows altogether
DONE_BY = {"opacity": "fades", "size": "shrinks"}


class Passing(Part):
    """Coming and going: evenly, from nothing over the first share of a life, to nothing over the last.

    What is left of opacity, size and speed at a life l (0 to 1) is 1 - how much of it goes x (1 - min(l / first, (1 -
    l) / last, 1)); a speed only goes, it does not come. Slowing is drag, exact over a step: speeds are multiplied by
    what is left at its end over what was at its beginning.
    """

    label = "In and out"
    help = (
        "Particles fade, shrink and slow over the last share of their lives, and come in over the first: none appears "
        "or is gone from one frame to "
        "the next."
    )
    band, stage = "endings", "live"
    example = Example(fields={"first": row(0.15), "last": row(0.4), "shrinks": row(1.0)})

    last: Annotated[
        NumberRow,
        Driven("Goes out over", PERCENT, 0, 1, 1, 0.25, "Over which last share of its life it goes.", always=True),
    ] = number(0.25)
    fades: Annotated[
        NumberRow,
        Driven(
            "Fades by", PERCENT, 0, 1, 1, 1.0, "How much of its opacity comes and goes so; 100 %: all.", always=True
        ),
    ] = number(1)
    shrinks: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Shrinks by", PERCENT, 0, 1, 1, 0.0, "How much of its size comes and goes so; 100 %: all.", always=True),
    ] = number(0)
    slows: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Slows by",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How much of its speed goes at the end; 100 %: it comes to rest.",
            always=True,
        ),
    ] = number(0)
    first: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Comes in over", PERCENT, 0, 1, 1, 0.0, "Over which first share of its life it comes to be.", always=True
        ),
    ] = number(0)

    @classmethod
    def rows_key(cls) -> str:
        return "passing"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        return (
            Suggestion("fade in and out", {"first": {"base": 0.15}, "slows": {"base": 0.0}}),
            Suggestion("fade, shrink and slow at the end", {"shrinks": {"base": 1.0}, "slows": {"base": 1.0}}),
        )

    def alters(self, address: str) -> tuple[str, ...] | None:
        by = DONE_BY.get(address.rpartition(".")[2]) if address.startswith(("look.", "also.")) else None
        if by is None or (by == "shrinks" and not differs_from_default(self.shrinks, 0.0)):
            return None
        return tuple(f"passing.{name}" for name in ("first", "last", by))

    def altered(self, at: Reader, address: str, values: Values) -> Values:
        b = at.builder
        life = b.op("div", at.state("age")[0], at.state("lifespan")[0])
        there = self._going(at, life)
        if differs_from_default(self.first, 0.0):
            comes = b.op("div", life, b.op("max", at.row("passing.first")[0], b.const(1e-6)))
            there = b.op("min", there, b.op("clamp", comes))
        left = _left(b, at.row(f"passing.{DONE_BY[address.rpartition('.')[2]]}")[0], there)
        return tuple(b.op("mul", value, left) for value in values)

    def _going(self, at: Reader, life: int) -> int:
        b = at.builder
        left = b.op("sub", b.const(1), life)
        return b.op("clamp", b.op("div", left, b.op("max", at.row("passing.last")[0], b.const(1e-6))))

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "push" or not differs_from_default(self.slows, 0.0):
            return
        b = at.builder
        b.row = "passing.slows"
        (age,), (lifespan,), slows = at.state("age"), at.state("lifespan"), at.row("passing.slows")[0]
        before, after = (
            b.op("max", b.const(LEAST), _left(b, slows, self._going(at, b.op("div", when, lifespan))))
            for when in (b.op("sub", age, state.dt), age)
        )
        rate = b.op("div", b.op("log", b.op("div", before, after)), b.op("max", state.dt, b.const(1e-9)))
        state.pushes.couple(b.op("max", rate, b.const(0)))


def _left(b: Builder, part: int, there: int) -> int:
    """Return what is left of something of which a part comes and goes, where so much of that part is there."""
    return b.op("sub", b.const(1), b.op("mul", part, b.op("sub", b.const(1), there)))
