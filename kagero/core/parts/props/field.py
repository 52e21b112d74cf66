"""A field of vectors from a file as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from ...geometry import Mesh, Path, VectorField
from ...rows.model import CONTENT, FileKind, Setting
from .base import SHAPED, Maker, PropOffer, StandingProp
from .file_refs import FILE_UNIT, FileRef, FileUnit, file_ref, file_title


class FieldProp(StandingProp):
    """A field of vectors from a file: wind, a current, a simulation. It stands, turns and grows as a prop; pushes read
    it."""

    label = "Field"
    solid, field, holds, dissolves, tinted, rendered = False, True, False, False, False, False

    kind: Literal["field"]
    file: Annotated[FileRef, SHAPED, CONTENT, FileKind("field", (".npz", ".vti")), Setting("file")]
    unit: Annotated[FileUnit, SHAPED, CONTENT, FILE_UNIT] = 1.0

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "field":
            yield PropOffer(cls.label, file_title(file), {"file": file_ref(file), "unit": file.get("unit", 1.0)})

    def summary(self) -> str:
        return self.file.name

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        found = maker.content(self.file.content)
        return Path(found.outline.points * self.unit) if isinstance(found, VectorField) else None
