"""A built-in shape as a prop."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...geometry import Mesh, Path, shape
from ...rows.model import CONTENT, Setting
from ...rows.units import METRES
from .base import MESHED, SHAPED, Maker, Metres, Profile, PropOffer, Strokes, SurfaceProp

SIZES = {
    "disc": ("radius",),
    "ring": ("inner", "radius"),
    "sphere": ("radius",),
    "box": ("width", "height", "depth"),
    "plane": ("width", "depth"),
    "cylinder": ("radius", "height"),
    "funnel": ("profile",),
}


_FUNNEL: list[tuple[float, float]] = [(0.15, 0.0), (0.3, 0.4), (0.6, 1.0)]


class ShapeProp(SurfaceProp):
    """A built-in shape; sizes in metres, of those that the shape has. profile: of a funnel, (radius, height) from its
    foot up."""

    label = "Shape"
    births_on, guiding, dense, paintable = MESHED, True, True, True
    offers = tuple(PropOffer(shape.capitalize(), shape, {"shape": shape}, "shapes") for shape in SIZES)

    kind: Literal["shape"] = "shape"
    shape: Annotated[Literal["disc", "ring", "sphere", "box", "plane", "cylinder", "funnel"], SHAPED]
    inner: Annotated[Metres, SHAPED, CONTENT, Setting("inner radius", unit=METRES)] = 0.3
    radius: Annotated[Metres, SHAPED, CONTENT, Setting("radius", unit=METRES)] = 0.5
    width: Annotated[Metres, SHAPED, CONTENT, Setting("width", unit=METRES)] = 1.0
    height: Annotated[Metres, SHAPED, CONTENT, Setting("height", unit=METRES)] = 1.0
    depth: Annotated[Metres, SHAPED, CONTENT, Setting("depth", unit=METRES)] = 1.0
    profile: Annotated[
        Profile, SHAPED, CONTENT, Setting("profile: radius and height, from its foot up", unit=METRES)
    ] = _FUNNEL
    strokes: Strokes = []

    def unused(self) -> frozenset[str]:
        return super().unused() | {name for names in SIZES.values() for name in names if name not in SIZES[self.shape]}

    def summary(self) -> str:
        return self.shape

    def exact_shape(self) -> tuple[str, dict[str, Any]] | None:
        return None if self.strokes else (self.shape, self.sizes())

    def sizes(self) -> dict[str, Any]:
        """Return its sizes by the names that `geometry.shape` takes them under."""
        return {
            ("outer" if self.shape == "ring" and name == "radius" else name): getattr(self, name)
            for name in SIZES[self.shape]
        }

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return shape(self.shape, **self.sizes())
