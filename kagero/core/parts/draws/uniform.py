"""A draw evenly between two values."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from .base import DrawPart, bound


class UniformDraw(DrawPart):
    """Evenly between two values."""

    label, short = "evenly between", "Evenly between two values."
    help = "Every value between two is as likely as any other."

    factor = (0.75, 1.25)

    kind: Literal["uniform"] = "uniform"
    low: Annotated[NumberRow, bound("Lowest", 0, "The smallest value drawn.")] = number(0)
    high: Annotated[NumberRow, bound("Highest", 1, "The largest value drawn.")] = number(1)

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        return at.builder.op("mix", bound("low"), bound("high"), uniform)
