"""Points from a file as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from ...geometry import Mesh, Path
from ...rows.model import CONTENT, FileKind, Setting
from .base import SHAPED, Maker, PropOffer, StandingProp
from .file_refs import FILE_UNIT, FILE_UP, Axis, FileRef, FileUnit, file_ref, file_title
from .mesh import mesh_of


class PointsProp(StandingProp):
    """Points from a file."""

    label = "Points"
    births_on = ("points",)

    kind: Literal["points"]
    file: Annotated[FileRef, SHAPED, CONTENT, FileKind("points", (".csv", ".ply")), Setting("file")]
    unit: Annotated[FileUnit, SHAPED, CONTENT, FILE_UNIT] = 1.0
    up: Annotated[Axis, SHAPED, CONTENT, FILE_UP] = "y"

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "points":
            yield PropOffer(
                cls.label,
                file_title(file),
                {"file": file_ref(file), "unit": file.get("unit", 1.0), "up": file.get("up", "y")},
            )

    def summary(self) -> str:
        return self.file.name

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return mesh_of(self.file, maker, self.unit, self.up)
