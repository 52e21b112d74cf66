"""How far along its own line something drawn along lines is, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import Listed
from ...rows.units import PERCENT
from ...rows.view import View


class AlongSource(NumberAttribute):
    label, group, unit, usual = "along it", "look", PERCENT, (0, 1)
    words = "trail ribbon streak length tail head over its own"
    help = "How far along its streak, trail or ribbon a place is: 0 % at the particle, 100 % at the far end."
    tabled = False
    example = Example(beside=("look:trail",))

    kind: Literal["along"]

    def unfit(self, spec: Any, read: str) -> str:
        if not spec.family.startswith("strand."):
            return (
                f"{spec.label} is no row along a line: only what streaks, trails and ribbons are drawn by changes "
                "along them."
            )
        return "Along the line is not settled at birth: read it live." if read == "once" else ""

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if view.has_strands:
            yield from super().listed(view)

    def write(self, at: Reader) -> Values:
        return at.state("along")
