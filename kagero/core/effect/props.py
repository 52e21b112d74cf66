"""Props: what an effect must fit. Each has a place that rows can drive; its geometry comes from a file or from what stands here."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from .base import Model, Name, Number, Uid, Vector
from .rows import Colour, Curve, NumberRow, VectorRow

Metres = Annotated[float, Field(ge=0, le=10_000)]
Axis = Literal["y", "z"]
Content = Annotated[str, Field(pattern=r"^[0-9a-f]{32}$", description="Content hash of a file that was brought in.")]


class FileRef(Model):
    """A file that was brought in: its content, and the name it had."""

    content: Content
    name: Annotated[str, Field(min_length=1, max_length=200)]


class Follow(Model):
    """What a prop is fixed to: another prop's own place, a point on its surface, or the mean of chosen points of it."""

    prop: Uid
    at: Literal["place", "surface", "points"] = "place"
    face: int = Field(default=0, ge=0)
    bary: tuple[float, float, float] = (1.0, 0.0, 0.0)
    points: list[Annotated[int, Field(ge=0)]] = Field(default=[], max_length=4096)
    turns: bool = Field(default=True, description="It turns and grows with what it follows; else only its place follows.")


class Dissolve(Model):
    """A prop goes where a mask is. latched: what the mask once touched stays gone."""

    mask: Uid
    latched: bool = True


class Stroke(Model):
    """One stroke of the soft brush over a mesh: what it does, in the prop's own space. strength: metres of push or pull, else a share."""

    kind: Literal["push", "pull", "scale", "smooth"]
    radius: Annotated[float, Field(gt=0, le=1000)]
    strength: Annotated[float, Field(ge=-100, le=100)]
    points: list[Vector] = Field(min_length=1, max_length=400)


class PropBase(Model):
    uid: Uid
    name: Name
    position: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))
    rotation: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))
    scale: VectorRow = VectorRow(base=(1.0, 1.0, 1.0))
    follow: Follow | None = None
    shown: Literal["shaded", "lines", "uv", "ghost", "hidden"] = "shaded"
    tint: Colour = (0.32, 0.3, 0.27)
    dissolve: Dissolve | None = None

    def referred(self) -> Iterator[tuple[str, FileRef]]:
        """Yield the files that it is made of, each with its place in the prop."""
        if (file := getattr(self, "file", None)) is not None:
            yield "file", file
        for number, each in enumerate(getattr(self, "files", ())):
            yield f"files.{number}", each

    # what an emitter has and a prop has not: rows of props are read by the clip alone
    @property
    def draws(self) -> list[None]:
        return []

    @property
    def own(self) -> list[None]:
        return []

    @property
    def muted_sources(self) -> list[str]:
        return []


Strokes = Annotated[list[Stroke], Field(max_length=2000, description="What the brush did to it, in order.")]


class ShapeProp(PropBase):
    """A built-in shape; sizes in metres, of those that the shape has. profile: of a funnel, (radius, height) from its foot up."""

    kind: Literal["shape"] = "shape"
    shape: Literal["disc", "ring", "sphere", "box", "plane", "cylinder", "funnel"]
    radius: Metres = 0.5
    inner: Metres = 0.3
    width: Metres = 1.0
    height: Metres = 1.0
    depth: Metres = 1.0
    profile: list[tuple[Metres, Number]] = Field(default=[(0.15, 0.0), (0.3, 0.4), (0.6, 1.0)], min_length=2, max_length=64)
    strokes: Strokes = []


class MeshProp(PropBase):
    """A mesh from a file, with its animation where it has one. unit: metres of one of the file's units; up: its upright axis."""

    kind: Literal["mesh"]
    file: FileRef
    unit: float = Field(default=1.0, gt=0, le=10_000)
    up: Axis = "y"
    start: float = Field(default=0.0, ge=-100_000, le=100_000, description="Clip time at which its animation begins, seconds.")
    speed: float = Field(default=1.0, ge=-100, le=100)
    loops: bool = False
    strokes: Strokes = []


class PictureProp(PropBase):
    """A picture on an upright plane, one metre high at scale 1; several files are a sequence, one a frame of the clip."""

    kind: Literal["picture"]
    files: list[FileRef] = Field(min_length=1, max_length=2000)
    start: float = Field(default=0.0, ge=-100_000, le=100_000)
    loops: bool = True


class PathProp(PropBase):
    """A path: smooth through its points, or straight between them; or, where there is a formula, what that gives for t from 0 to 1."""

    kind: Literal["path"]
    points: list[Vector] = Field(min_length=1, max_length=20_000)
    closed: bool = False
    smooth: bool = True
    formula: str = Field(default="", max_length=4000, description="A vector of t, in metres: see docs/FORMULAS.md.")


class TextProp(PropBase):
    """Words as a mesh, flat or with a thickness. height: of a capital letter, metres."""

    kind: Literal["text"]
    text: str = Field(min_length=1, max_length=400)
    weight: Literal["regular", "medium", "bold"] = "bold"
    height: Annotated[float, Field(gt=0, le=1000)] = 0.3
    depth: Metres = 0.0
    align: Literal["left", "middle", "right"] = "middle"


class LogoProp(PropBase):
    """An SVG drawing as a mesh, flat or with a thickness. height: of the whole drawing, metres."""

    kind: Literal["logo"]
    file: FileRef
    height: Annotated[float, Field(gt=0, le=1000)] = 1.0
    depth: Metres = 0.0


class PointsProp(PropBase):
    """Points from a file."""

    kind: Literal["points"]
    file: FileRef
    unit: float = Field(default=1.0, gt=0, le=10_000)
    up: Axis = "y"


class CameraProp(PropBase):
    """A camera: it looks along its own -z, with y up, as in glTF 2.0."""

    kind: Literal["camera"]
    field_of_view: NumberRow = NumberRow(base=0.7)


class MaskProp(PropBase):
    """A mask: 1 within, 0 without, and between them over a falloff in metres outward, through a curve.

    shape: sphere and cylinder have a radius, box and cylinder a size (of the cylinder its y), slab a thickness (its size's y); plane
    is all below it; mesh is within `of`, picture is the picture of `of` seen along its axis, distance is from where `of` stands.
    noise and formula have a level and a softness. union, intersection and difference join `masks`. Sizes grow with its scale: a
    sphere and a cylinder by the scale's x.
    """

    kind: Literal["mask"]
    shape: Literal["sphere", "box", "slab", "plane", "cylinder", "mesh", "distance", "picture", "noise", "formula", "union",
                   "intersection", "difference"]  # fmt: skip
    of: Uid | None = None
    masks: list[Uid] = Field(default=[], max_length=8)
    radius: NumberRow = NumberRow(base=0.5)
    size: VectorRow = VectorRow(base=(1.0, 1.0, 1.0))
    falloff: NumberRow = NumberRow(base=0)
    level: NumberRow = NumberRow(base=0.5)
    softness: NumberRow = NumberRow(base=1)
    noise_scale: NumberRow = NumberRow(base=0.5)
    noise_drift: NumberRow = NumberRow(base=0)
    amplitude: NumberRow = NumberRow(base=1)
    edge: NumberRow = NumberRow(base=0)
    channel: Literal["luminance", "red", "green", "blue", "alpha"] = "luminance"
    curve: Curve | None = Field(default=None, description="Of the falloff, from its outer end to its inner; without one, straight.")
    invert: bool = False
    formula: str = Field(default="", max_length=4000, description="A number of position and clip_time: see docs/FORMULAS.md.")


Prop = Annotated[
    ShapeProp | MeshProp | PictureProp | PathProp | TextProp | LogoProp | PointsProp | CameraProp | MaskProp, Field(discriminator="kind")
]
