"""The inside of a mesh as a mask."""

from __future__ import annotations

from typing import Any, Literal

from ...rows.responses import number
from .base import EdgedMask, MaskOf, Radius, Spot


class MeshMask(EdgedMask, MaskOf):
    """Within a prop, grown by the radius."""

    label, help, needs = "Inside a mesh", "Within a prop, grown by the radius.", "solid"
    of_fits, of_needs = "guiding", "a mesh or shape"

    shape: Literal["mesh"]
    radius: Radius = number(0.5)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "radius": {"base": 0.0, "responses": []}}

    def distance(self, at: Spot) -> int:
        assert self.of is not None
        return at.builder.op("sub", at.sample(self.of)[0], self.row(at, "radius")[0])
