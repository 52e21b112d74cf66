"""A built-in shape as a prop."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...geometry import Mesh, Path, shape
from ...rows.model import CONTENT
from .base import MESHED, SHAPED, Maker, Metres, Profile, StandingProp, Strokes

SIZES = {
    "disc": ("radius",),
    "ring": ("inner", "radius"),
    "sphere": ("radius",),
    "box": ("width", "height", "depth"),
    "plane": ("width", "depth"),
    "cylinder": ("radius", "height"),
    "funnel": ("profile",),
}


class ShapeProp(StandingProp):
    """A built-in shape; sizes in metres, of those that the shape has. profile: of a funnel, (radius, height) from its foot up."""

    label = "Shape"
    births_on, guiding, dense = MESHED, True, True

    kind: Literal["shape"] = "shape"
    shape: Annotated[Literal["disc", "ring", "sphere", "box", "plane", "cylinder", "funnel"], SHAPED]
    radius: Annotated[Metres, SHAPED, CONTENT] = 0.5
    inner: Annotated[Metres, SHAPED, CONTENT] = 0.3
    width: Annotated[Metres, SHAPED, CONTENT] = 1.0
    height: Annotated[Metres, SHAPED, CONTENT] = 1.0
    depth: Annotated[Metres, SHAPED, CONTENT] = 1.0
    profile: Annotated[Profile, SHAPED, CONTENT] = Field(default=[(0.15, 0.0), (0.3, 0.4), (0.6, 1.0)], min_length=2, max_length=64)
    strokes: Strokes = []

    def sizes(self) -> dict[str, Any]:
        """Return its sizes by the names that `geometry.shape` takes them under."""
        return {("outer" if self.shape == "ring" and name == "radius" else name): getattr(self, name) for name in SIZES[self.shape]}

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return shape(self.shape, **self.sizes())
