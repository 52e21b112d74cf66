"""What is painted onto a prop as a mask."""

from __future__ import annotations

from typing import Literal

from ...rows.example import Example
from .base import LevelledMask, MaskOf, Spot


class PaintedMask(LevelledMask, MaskOf):
    """The share that is painted onto a prop, at its place nearest to the point."""

    label, help, needs = "Painted on a prop", "What the brush painted onto a prop, at its nearest place.", "solid"
    of_fits, of_needs = "paintable", "a mesh, shape or words"
    example = Example(fixtures={"ball": {"paint": [{"kind": "paint", "radius": 0.25, "points": [[0.0, 0.22, 0.0]]}]}})

    shape: Literal["painted"]

    def over(self, at: Spot) -> int:
        assert self.of is not None
        return at.painted(self.of)
