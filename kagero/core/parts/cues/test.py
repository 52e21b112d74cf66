"""A cue by a test: a source against a value, and one more where wanted."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from ...rows.model import WHETHER, Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs, number
from ...rows.units import PLAIN, SECONDS
from .base import CuePart

SIDES = (("above", "is at least"), ("below", "is at most"))


class TestCue(CuePart):
    """When a number of a particle, any source or formula, comes to be at least or at most a value; and, or, a second one; for so long."""

    label = "When a number is"
    help = "When any source or formula comes to be at least or at most a value; with a second test where wanted; held for so long."
    rows_first: ClassVar[tuple[str, ...]] = ("of", "value", "of_two", "value_two", "held")

    kind: Literal["test"] = "test"
    side: Annotated[Literal["above", "below"], Setting("It", "From which side it comes to be true.", choices=SIDES)] = "above"
    second: Annotated[
        Literal["none", "and", "or"],
        Setting("A second test", choices=(("none", "none"), ("and", "and this one too"), ("or", "or this one instead"))),
    ] = "none"
    side_two: Annotated[Literal["above", "below"], Setting("The second", choices=SIDES)] = "above"
    of: Annotated[
        NumberRow, Driven("When", PLAIN, -1e9, 1e9, 2, 0.0, "What is looked at: put a source or a formula here. In SI units.", always=True)
    ] = number(0)
    value: Annotated[NumberRow, Driven("Against", PLAIN, -1e9, 1e9, 2, 0.5, "What it is compared with, in SI units.", always=True)] = number(0.5)
    of_two: Annotated[NumberRow, Driven("And when", PLAIN, -1e9, 1e9, 2, 0.0, "What the second test looks at.")] = number(0)
    value_two: Annotated[NumberRow, Driven("Against the second", PLAIN, -1e9, 1e9, 2, 0.5, "What the second is compared with.")] = number(0.5)
    held: Annotated[NumberRow, WHETHER, Driven("Held for", SECONDS, 0, 10_000, 2, 0.0, "For how long it has to stay true.")] = number(0)

    @classmethod
    def template(cls) -> dict[str, Any]:
        life = {"base": {"source": {"kind": "life"}, "read": "live"}, "responses": []}
        return {**super().template(), "of": life}

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"of_two", "value_two", "side_two"}) if self.second == "none" else frozenset())

    def compared(self) -> tuple[tuple[str, str, str], ...]:
        one = ("of", "value", self.side)
        return (one,) if self.second == "none" else (one, ("of_two", "value_two", self.side_two))

    def true(self, at: Reader) -> int:
        b = at.builder

        def test(side: str, of: str, value: str) -> int:
            x, y = self.row(at, of)[0], self.row(at, value)[0]
            return b.op("less_equal", y, x) if side == "above" else b.op("less_equal", x, y)

        true = test(self.side, "of", "value")
        if self.second == "none":
            return true
        return b.op("mul" if self.second == "and" else "max", true, test(self.side_two, "of_two", "value_two"))

    def lasts(self, at: Reader) -> int | None:
        return self.row(at, "held")[0] if differs(self.held, 0.0) else None
