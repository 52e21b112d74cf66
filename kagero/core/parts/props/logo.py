"""An SVG drawing as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ...errors import GeometryProblem
from ...geometry import Drawing, Mesh, Path
from ...geometry.outline import extrude, fill_rings
from ...rows.model import CONTENT, FileKind, Setting
from ...rows.units import METRES
from .base import MESHED, SHAPED, Maker, Metres, PropOffer, SurfaceProp
from .file_refs import FileRef, file_ref, file_title


class LogoProp(SurfaceProp):
    """An SVG drawing as a mesh, flat or with a thickness. height: of the whole drawing, metres."""

    breaks_as = "separate"
    label = "Drawing"
    births_on, guiding, dense, paintable = MESHED, True, True, True

    kind: Literal["logo"]
    file: Annotated[FileRef, SHAPED, CONTENT, FileKind("drawing", (".svg",)), Setting("file")]
    height: Annotated[float, SHAPED, CONTENT, Setting("height", "Of the whole drawing.", METRES)] = Field(
        default=1.0, gt=0, le=1000
    )
    depth: Annotated[Metres, SHAPED, CONTENT, Setting("thickness", unit=METRES)] = 0.0

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "drawing":
            yield PropOffer(cls.label, file_title(file), {"file": file_ref(file)})

    def summary(self) -> str:
        return self.file.name

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        drawing = maker.content(self.file.content)
        if not isinstance(drawing, Drawing):
            raise GeometryProblem(f"{self.file.name} is no drawing.", remedy="Bring in SVG.")
        rings = [ring for shape_rings in drawing.rings for ring in shape_rings]
        if not rings:
            raise GeometryProblem(f"{self.file.name} fills nothing.", remedy="Turn strokes into filled paths.")
        every = np.concatenate(rings)
        low, high = every.min(axis=0), every.max(axis=0)
        scale = self.height / max(float(high[1] - low[1]), 1e-12)
        middle = np.array([(low[0] + high[0]) / 2, low[1]])
        polygons = [
            polygon
            for each, rule in zip(drawing.rings, drawing.rules, strict=True)
            for polygon in fill_rings([(ring - middle) * scale for ring in each], rule)
        ]
        return extrude(polygons, self.depth)
