"""A picture, or a sequence of them, as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...geometry import Mesh, Path, Picture, shape
from ...rows.model import CONTENT
from .base import SHAPED, FileRef, Maker, StandingProp


class PictureProp(StandingProp):
    """A picture on an upright plane, one metre high at scale 1; several files are a sequence, one a frame of the clip."""

    label = "Picture"
    births_on, guiding, dense, pictured, film = ("surface", "edges"), True, True, True, True

    kind: Literal["picture"]
    files: Annotated[list[FileRef], SHAPED, CONTENT] = Field(min_length=1, max_length=2000)
    start: Annotated[float, CONTENT] = Field(default=0.0, ge=-100_000, le=100_000)
    loops: Annotated[bool, CONTENT] = True

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        picture = maker.content(self.files[0].content)
        width, height = picture.size if isinstance(picture, Picture) else (1, 1)
        flat = shape("plane", width=width / height, depth=1.0)
        upright = np.stack([flat.points[:, 0], -flat.points[:, 2], np.zeros(len(flat.points))], 1)
        return Mesh.of(upright, flat.faces, flat.uv)
