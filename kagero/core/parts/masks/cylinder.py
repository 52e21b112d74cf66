"""A cylinder as a mask."""

from __future__ import annotations

from typing import Literal

from ...rows.responses import number
from .base import SIZE, Radius, Size, Spot, StandingMask
from .solids import beyond_half, own_space, to_solid


class CylinderMask(StandingMask):
    """Within a radius about its axis, which grows with its scale's x."""

    label, help = "Cylinder", "Within a radius about its axis, as high as its size's y."

    shape: Literal["cylinder"]
    radius: Radius = number(0.5)
    size: Size = SIZE

    def distance(self, at: Spot) -> int:
        b = at.builder
        _, across, scales = own_space(at, self.uid)
        round_it = b.op(
            "sub", b.op("length", across[0], b.const(0), across[2]), b.op("mul", self.row(at, "radius")[0], scales[0])
        )
        return to_solid(b, [round_it, beyond_half(b, self.row(at, "size")[1], scales[1], across[1])])
