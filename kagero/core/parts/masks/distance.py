"""The distance to a prop as a mask."""

from __future__ import annotations

from typing import Literal

from ...rows.responses import number
from .base import EdgedMask, MaskOf, Radius, Spot


class DistanceMask(EdgedMask, MaskOf):
    """Within a radius of where a prop or camera stands."""

    label, help, needs = "Distance to a prop", "Within a radius of where a prop or camera stands.", "placed"
    of_fits, of_needs = "placed", "a prop or camera"

    shape: Literal["distance"]
    radius: Radius = number(0.5)

    def stands_at(self) -> str | None:
        return self.of

    def distance(self, at: Spot) -> int:
        assert self.of is not None
        b, m = at.builder, at.matrix(self.of)
        away = b.op("length", *(b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(at.point)))
        return b.op("sub", away, self.row(at, "radius")[0])
