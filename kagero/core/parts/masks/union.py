"""Any of: masks joined into one."""

from __future__ import annotations

from typing import Literal

from .base import JoinedMask, Spot


class UnionMask(JoinedMask):
    label, help = "Any of", "Where at least one of other masks is."

    shape: Literal["union"]

    def plain_value(self, at: Spot) -> int:
        value, *others = self.parts(at)
        for other in others:
            value = at.builder.op("max", value, other)
        return value
