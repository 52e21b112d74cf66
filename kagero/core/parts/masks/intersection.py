"""All of: masks joined into one."""

from __future__ import annotations

from typing import Literal

from .base import JoinedMask, Spot


class IntersectionMask(JoinedMask):
    label, help = "All of", "Where all of other masks are."

    shape: Literal["intersection"]

    def plain_value(self, at: Spot) -> int:
        value, *others = self.parts(at)
        for other in others:
            value = at.builder.op("min", value, other)
        return value
