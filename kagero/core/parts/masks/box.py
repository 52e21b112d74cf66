"""A box as a mask."""

from __future__ import annotations

from typing import Literal

from .base import SIZE, Size, Spot, StandingMask
from .solids import beyond_half, own_space, to_solid


class BoxMask(StandingMask):
    label, help = "Box", "Within width, height and depth."

    shape: Literal["box"]
    size: Size = SIZE

    def distance(self, at: Spot) -> int:
        b, size = at.builder, self.row(at, "size")
        _, across, scales = own_space(at, self.uid)
        return to_solid(b, [beyond_half(b, size[k], scales[k], across[k]) for k in range(3)])
