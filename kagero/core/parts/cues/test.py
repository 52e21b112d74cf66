"""A cue by a test: a source against a value, and one more where wanted."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import PLAIN, SECONDS
from .base import CuePart

PASSED = ("passed", "passed_two")  # what the state calls by how much each test passed as the step before ended
SIDES = (("above", "is at least"), ("below", "is at most"))


class TestCue(CuePart):
    """When a number of a particle, any source or formula, comes to be at least or at most a value; and, or, a second
    one; for so long."""

    label = "When a number is"
    help = (
        "When any source or formula comes to be at least or at most a value; with a second test where wanted; held for "
        "so long."
    )
    compares = {"value": "of", "value_two": "of_two"}
    rows_first: ClassVar[tuple[str, ...]] = ("of", "value", "of_two", "value_two", "held")
    example = Example(variants=({"second": "and"},))

    kind: Literal["test"] = "test"
    side: Annotated[Literal["above", "below"], Setting("It", "From which side it comes to be true.", choices=SIDES)] = (
        "above"
    )
    second: Annotated[
        Literal["none", "and", "or"],
        Setting(
            "A second test", choices=(("none", "none"), ("and", "and this one too"), ("or", "or this one instead"))
        ),
    ] = "none"
    side_two: Annotated[Literal["above", "below"], Setting("The second", choices=SIDES)] = "above"
    of: Annotated[
        NumberRow,
        Driven(
            "When",
            PLAIN,
            -1e9,
            1e9,
            2,
            0.0,
            "What is looked at: put a source or a formula here. In SI units.",
            always=True,
        ),
    ] = number(0)
    value: Annotated[
        NumberRow, Driven("Against", PLAIN, -1e9, 1e9, 2, 0.5, "What it is compared with, in SI units.", always=True)
    ] = number(0.5)
    of_two: Annotated[NumberRow, Driven("And when", PLAIN, -1e9, 1e9, 2, 0.0, "What the second test looks at.")] = (
        number(0)
    )
    value_two: Annotated[
        NumberRow, Driven("Against the second", PLAIN, -1e9, 1e9, 2, 0.5, "What the second is compared with.")
    ] = number(0.5)
    held: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Held for", SECONDS, 0, 10_000, 2, 0.0, "For how long it has to stay true."),
    ] = number(0)

    @classmethod
    def template(cls) -> dict[str, Any]:
        life = {"base": {"source": {"kind": "life"}, "read": "live"}, "responses": []}
        return {**super().template(), "of": life}

    def unused(self) -> frozenset[str]:
        return super().unused() | (
            frozenset({"of_two", "value_two", "side_two"}) if self.second == "none" else frozenset()
        )

    def compared(self) -> tuple[tuple[str, str, str], ...]:
        one = ("of", "value", self.side)
        return (one,) if self.second == "none" else (one, ("of_two", "value_two", self.side_two))

    def _reads(self, at: Reader) -> list[tuple[int, int]]:
        """Return of each test whether it passes, 1 or 0, and by how much: less than nought, it does not."""
        b, read = at.builder, []
        for of, value, side in self.compared():
            x, y = self.row(at, of)[0], self.row(at, value)[0]
            low, high = (y, x) if side == "above" else (x, y)
            read.append((b.op("less_equal", low, high), b.op("sub", high, low)))
        return read

    def _joined(self, at: Reader, values: list[int], how: tuple[str, str]) -> int:
        return values[0] if len(values) == 1 else at.builder.op(how[0] if self.second == "and" else how[1], *values)

    def true(self, at: Reader) -> int:
        return self._joined(at, [passes for passes, _ in self._reads(at)], ("mul", "max"))

    def share(self, at: Reader, state: StepState) -> int | None:
        """A test's two sides are taken as going evenly from where they were as the step began to where they are as it
        ends."""
        b, shares = at.builder, []
        for name, (passes, by) in zip(PASSED, self._reads(at), strict=False):
            before = self.kept(at, name)
            part = b.op("div", by, b.op("max", b.op("sub", by, before), b.const(1e-30)))
            shares.append(b.op("mul", passes, b.op("select", b.op("less", before, b.const(0)), part, b.const(1))))
        return self._joined(at, shares, ("min", "max"))

    def remembered(self, at: Reader) -> dict[str, int]:
        return {name: by for name, (_, by) in zip(PASSED, self._reads(at), strict=False)}

    def lasts(self, at: Reader) -> int | None:
        return self.row(at, "held")[0] if differs_from_default(self.held, 0.0) else None
