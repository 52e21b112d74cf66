"""A draw evenly around a centre."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.writing import row
from .base import DrawPart, bound


class SpreadDraw(DrawPart):
    """Evenly within a spread to both sides of a centre."""

    label, short = "around a centre", "Evenly around a centre."
    help = "Evenly within a spread to both sides of a centre."

    kind: Literal["spread"]
    centre: Annotated[NumberRow, bound("Centre", 0, "The middle of the values drawn.")] = number(0)
    spread: Annotated[NumberRow, bound("Spread", 1, "How far from the centre values reach, to both sides.")] = number(1)

    @classmethod
    def around(cls, value: float) -> dict[str, Any]:
        return {"centre": row(value), "spread": row(abs(value) / 4)}

    def range(self) -> tuple[float, float]:
        return self.plain("centre") - self.plain("spread"), self.plain("centre") + self.plain("spread")

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        b = at.builder
        side = b.op("sub", b.op("mul", uniform, b.const(2)), b.const(1))
        return b.op("add", bound("centre"), b.op("mul", bound("spread"), side))
