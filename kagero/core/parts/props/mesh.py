"""A mesh from a file as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from ...errors import GeometryProblem
from ...geometry import Mesh, Path
from ...geometry.mesh import to_metres
from ...rows.model import CONTENT, FileKind, Setting
from ...rows.units import FACTOR, SECONDS
from .base import MESHED, SHAPED, ClipTime, Maker, PropOffer, Strokes, SurfaceProp
from .file_refs import FILE_UNIT, FILE_UP, Axis, FileRef, FileUnit, file_ref, file_title


class MeshProp(SurfaceProp):
    """A mesh from a file, with its animation where it has one. unit: metres of one of the file's units; up: its upright
    axis."""

    animated, materials = True, True
    label = "Mesh"
    births_on, guiding, dense, pictured, paintable = MESHED, True, True, True, True

    kind: Literal["mesh"]
    file: Annotated[FileRef, SHAPED, CONTENT, FileKind("mesh", (".obj", ".ply", ".stl", ".glb")), Setting("file")]
    unit: Annotated[FileUnit, SHAPED, CONTENT, FILE_UNIT] = 1.0
    up: Annotated[Axis, SHAPED, CONTENT, FILE_UP] = "y"
    start: Annotated[ClipTime, CONTENT, Setting("moves from", "Clip time at which its animation begins.", SECONDS)] = (
        0.0
    )
    speed: Annotated[float, CONTENT, Setting("speed", "How many times as fast as in its file.", FACTOR)] = Field(
        default=1.0, ge=-100, le=100
    )
    loops: Annotated[bool, CONTENT, Setting("loops", "Its animation begins anew when it has ended.")] = False
    strokes: Strokes = []

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "mesh":
            yield PropOffer(
                cls.label,
                file_title(file),
                {"file": file_ref(file), "unit": file.get("unit", 1.0), "up": file.get("up", "y")},
            )

    def summary(self) -> str:
        return self.file.name

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return mesh_of(self.file, maker, self.unit, self.up)


def mesh_of(file: FileRef, maker: Maker, unit: float, up: str) -> Mesh:
    """Return the mesh or points of a file in metres with y up. Raises GeometryProblem."""
    found = maker.content(file.content)
    if not isinstance(found, Mesh):
        raise GeometryProblem(f"{file.name} is a picture, not a mesh.", remedy="Bring in a mesh.")
    return to_metres(found, unit, up)
