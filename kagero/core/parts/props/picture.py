"""A picture, or a sequence of them, as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ...geometry import ImportedGeometry, Mesh, Path, Picture, shape
from ...rows.model import CONTENT, FileKind, Setting
from ...rows.units import SECONDS
from .base import SHAPED, ClipTime, Maker, PropOffer, StandingProp
from .file_refs import FileRef, file_ref, file_title

Pictures = Annotated[list[FileRef], Field(min_length=1, max_length=2000)]


class PictureProp(StandingProp):
    """A picture on an upright plane, one metre high at scale 1; several files are a sequence, one a frame of the
    clip."""

    label = "Picture"
    births_on, guiding, dense, pictured, film, tinted = ("surface", "edges"), True, True, True, True, False

    kind: Literal["picture"]
    files: Annotated[Pictures, SHAPED, CONTENT, FileKind("picture", (".png", ".jpg", ".jpeg")), Setting("file")]
    start: Annotated[ClipTime, CONTENT, Setting("moves from", "Clip time at which its sequence begins.", SECONDS)] = 0.0
    loops: Annotated[bool, CONTENT, Setting("loops", "Its sequence begins anew when it has ended.")] = True

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "picture":
            yield PropOffer(cls.label, file_title(file), {"files": [file_ref(file)]})

    def summary(self) -> str:
        return f"{len(self.files)} pictures" if len(self.files) > 1 else self.files[0].name

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset() if len(self.files) > 1 else {"start", "loops"})

    def pictured_at(self, times: np.ndarray, rate: float, moves: bool) -> np.ndarray:
        number = np.floor((times - self.start) * rate + 1e-6)
        last = len(self.files) - 1
        return number % (last + 1) if self.loops else np.clip(number, 0, last)

    def picture_key(self, number: int, own: dict[str, float]) -> str:
        return self._file(number).content

    def picture(self, maker: Maker, number: int, own: dict[str, float]) -> ImportedGeometry:
        return maker.content(self._file(number).content)

    def _file(self, number: int) -> FileRef:
        return self.files[min(max(number, 0), len(self.files) - 1)]

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        picture = maker.content(self.files[0].content)
        width, height = picture.size if isinstance(picture, Picture) else (1, 1)
        return upright(width / height)


def upright(width: float) -> Mesh:
    """Return an upright plane, one metre high, that a picture stands on."""
    flat = shape("plane", width=width, depth=1.0)
    points = np.stack([flat.points[:, 0], -flat.points[:, 2], np.zeros(len(flat.points))], 1)
    return Mesh.of(points, flat.faces, flat.uv)
