"""What of files and props goes over the wire."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from .base_schemas import Strict
from .layout_schemas import AddSpec


class GeometryIn(Strict):
    """fine: in triangles small enough to carry what frames say of its points (how far it is gone, a field)."""

    prop: dict[str, Any]
    fine: bool = False


class ContentsIn(Strict):
    """contents: of files that a document refers to."""

    contents: list[str] = Field(max_length=20_000)


class SequenceIn(Strict):
    """contents: of the meshes, in order; rate: of them a second."""

    contents: list[str] = Field(min_length=2, max_length=2000)
    rate: float = Field(gt=0, le=1000)


class OffersIn(Strict):
    """content: of a file that was brought in; unit: how long one of its units is, metres; up: its upright axis."""

    content: str
    unit: float = Field(gt=0, le=10_000)
    up: Literal["y", "z"]


class FileOut(Schema):
    """A file that was brought in. kind: mesh, picture, film, drawing or points; line: what it is as a path. unit, up:
    what a mesh probably has; pictures: how many a film has; ref: how a document names it; cameras: how many; remarks:
    what has to be known of it, in words; props: what it can become, as the layout's additions."""

    content: str
    name: str
    bytes: int
    kind: str
    faces: int = 0
    points: int = 0
    size: list[float] = []
    closed: bool = False
    uv: bool = False
    moves: bool = False
    seconds: float = 0
    unit: float = 1
    up: str = "y"
    width: int = 0
    height: int = 0
    pictures: int = 0
    ref: dict[str, Any] = {}
    cameras: int = 0
    remarks: list[str] = []
    props: list[AddSpec] = []
