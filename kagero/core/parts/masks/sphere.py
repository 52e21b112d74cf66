"""A sphere as a mask."""

from __future__ import annotations

from typing import Literal

from ...rows.responses import number
from .base import Radius, Spot, StandingMask
from .solids import own_space


class SphereMask(StandingMask):
    """Within a radius, which grows with its scale's x."""

    label, help = "Sphere", "Within a radius."

    shape: Literal["sphere"]
    radius: Radius = number(0.5)

    def distance(self, at: Spot) -> int:
        b = at.builder
        gap, _, scales = own_space(at, self.uid)
        return b.op("sub", b.op("length", *gap), b.op("mul", self.row(at, "radius")[0], scales[0]))
