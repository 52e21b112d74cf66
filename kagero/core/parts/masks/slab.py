"""A slab as a mask."""

from __future__ import annotations

from typing import Literal

from .base import SIZE, Size, Spot, StandingMask
from .solids import beyond_half, own_space


class SlabMask(StandingMask):
    label, help = "Slab", "Between two planes; its size's y is how thick it is."

    shape: Literal["slab"]
    size: Size = SIZE

    def distance(self, at: Spot) -> int:
        _, across, scales = own_space(at, self.uid)
        return beyond_half(at.builder, self.row(at, "size")[1], scales[1], across[1])
