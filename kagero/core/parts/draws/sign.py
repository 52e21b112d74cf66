"""A draw of a sign."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from .base import DrawPart, bound


class SignDraw(DrawPart):
    """+1 with a chance, else -1."""

    label, short = "sign", "-1 or +1."
    help = "+1 with a chance, else -1: flips what it multiplies."

    factor = (-1.0, 1.0)

    kind: Literal["sign"]
    chance: Annotated[
        NumberRow, bound("Chance of +1", 0.5, "The share of particles that get +1; the others get -1.", 0, 1)
    ] = number(0.5)

    def range(self) -> tuple[float, float]:
        return -1.0, 1.0

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        b = at.builder
        return b.op("sub", b.op("mul", b.op("less", uniform, bound("chance")), b.const(2)), b.const(1))
