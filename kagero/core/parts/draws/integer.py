"""A draw of a whole number."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Annotated, Any, Literal

from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.writing import row
from .base import DrawPart, bound


class IntegerDraw(DrawPart):
    """A whole number between two, both included."""

    label, short = "whole number", "A whole number."
    help = "A whole number between two, both included."

    kind: Literal["integer"]
    low: Annotated[NumberRow, bound("Lowest", 0, "The smallest value drawn.")] = number(0)
    high: Annotated[NumberRow, bound("Highest", 3, "The largest value drawn.")] = number(3)

    @classmethod
    def around(cls, value: float) -> dict[str, Any]:
        return {"low": row(float(math.floor(value))), "high": row(float(math.floor(value) + 3))}

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        b = at.builder
        low, high = bound("low"), bound("high")
        span = b.op("add", b.op("sub", high, low), b.const(1))
        return b.op("min", b.op("floor", b.op("add", low, b.op("mul", uniform, span))), high)
