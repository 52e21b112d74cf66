"""A normally distributed draw."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.writing import row
from .base import DrawPart, bound


class NormalDraw(DrawPart):
    """Normally distributed; on request without its sign, and held between two bounds. Source: AS 241 (see
    `kernels/random.py`)."""

    label, short = "normal", "Normally distributed."
    help = "Most near the mean, few far from it; on request without sign, and held between bounds."

    kind: Literal["normal"]
    mean: Annotated[NumberRow, bound("Mean", 0, "The middle of the values drawn.")] = number(0)
    deviation: Annotated[
        NumberRow,
        bound("Deviation", 1, "The standard deviation: two thirds of all values lie this near to the mean.", 0),
    ] = number(1)
    absolute: Annotated[bool, Setting("without sign", "Every value counts as positive.")] = False
    clamped: Annotated[bool, Setting("held", "No value lies beyond the bounds.")] = False
    lowest: Annotated[NumberRow, bound("Not below", -1, "Values below are raised to this.")] = number(-1)
    highest: Annotated[NumberRow, bound("Not above", 1, "Values above are lowered to this.")] = number(1)

    @classmethod
    def around(cls, value: float) -> dict[str, Any]:
        return {"mean": row(value), "deviation": row(abs(value) / 8)}

    def unused(self) -> frozenset[str]:
        return frozenset() if self.clamped else frozenset({"lowest", "highest"})

    def range(self) -> tuple[float, float]:
        reach, mean = 3 * self.plain("deviation"), self.plain("mean")
        low, high = mean - reach, mean + reach
        if self.absolute:
            low, high = 0.0, max(abs(low), abs(high))
        return (max(low, self.plain("lowest")), min(high, self.plain("highest"))) if self.clamped else (low, high)

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        b = at.builder
        value = b.op("add", bound("mean"), b.op("mul", bound("deviation"), b.op("normal", uniform)))
        if self.absolute:
            value = b.op("max", value, b.op("neg", value))
        return b.op("min", b.op("max", value, bound("lowest")), bound("highest")) if self.clamped else value
