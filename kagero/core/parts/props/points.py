"""Points from a file as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...geometry import Mesh, Path
from ...rows.model import CONTENT
from .base import SHAPED, Axis, FileRef, Maker, StandingProp
from .mesh import mesh_of


class PointsProp(StandingProp):
    """Points from a file."""

    label = "Points"
    births_on = ("points",)

    kind: Literal["points"]
    file: Annotated[FileRef, SHAPED, CONTENT]
    unit: Annotated[float, SHAPED, CONTENT] = Field(default=1.0, gt=0, le=10_000)
    up: Annotated[Axis, SHAPED, CONTENT] = "y"

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return mesh_of(self.file, maker, self.unit, self.up)
