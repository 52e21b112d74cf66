"""All on one side of a plane, as a mask."""

from __future__ import annotations

from typing import Literal

from .base import Spot, StandingMask
from .solids import own_space


class PlaneMask(StandingMask):
    label, help = "Plane", "All on the lower side of it."

    shape: Literal["plane"]

    def distance(self, at: Spot) -> int:
        return own_space(at, self.uid)[1][1]
