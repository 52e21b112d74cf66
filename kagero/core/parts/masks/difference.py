"""One without others: masks joined into one."""

from __future__ import annotations

from typing import Literal

from .base import JoinedMask, Spot


class DifferenceMask(JoinedMask):
    label, help = "One without others", "Where the first mask is and the others are not."

    shape: Literal["difference"]

    def plain_value(self, at: Spot) -> int:
        b = at.builder
        value, *others = self.parts(at)
        for other in others:
            value = b.op("min", value, b.op("sub", b.const(1), other))
        return value
