"""A mesh from a file as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...errors import GeometryProblem
from ...geometry import Mesh, Path
from ...geometry.mesh import converted
from ...rows.model import CONTENT
from .base import MESHED, SHAPED, Axis, FileRef, Maker, StandingProp, Strokes


class MeshProp(StandingProp):
    """A mesh from a file, with its animation where it has one. unit: metres of one of the file's units; up: its upright axis."""

    label = "Mesh"
    births_on, guiding, dense, pictured = MESHED, True, True, True

    kind: Literal["mesh"]
    file: Annotated[FileRef, SHAPED, CONTENT]
    unit: Annotated[float, SHAPED, CONTENT] = Field(default=1.0, gt=0, le=10_000)
    up: Annotated[Axis, SHAPED, CONTENT] = "y"
    start: Annotated[float, CONTENT] = Field(default=0.0, ge=-100_000, le=100_000, description="Clip time at which its animation begins, seconds.")
    speed: Annotated[float, CONTENT] = Field(default=1.0, ge=-100, le=100)
    loops: Annotated[bool, CONTENT] = False
    strokes: Strokes = []

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return mesh_of(self.file, maker, self.unit, self.up)


def mesh_of(file: FileRef, maker: Maker, unit: float, up: str) -> Mesh:
    """Return the mesh or points of a file in metres with y up. Raises GeometryProblem."""
    found = maker.content(file.content)
    if not isinstance(found, Mesh):
        raise GeometryProblem(f"{file.name} is a picture, not a mesh.", remedy="Bring in a mesh.")
    return converted(found, unit, up)
