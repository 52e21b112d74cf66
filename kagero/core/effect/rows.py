"""Rows and responses: a base value, and what drives it, in order."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, Tag, model_validator

from . import sources as _sources
from .base import Model, Number, Uid, Vector
from .sources import Read, Setting, Source, SourcedBase, VectorSetting, _plain_or

Operation = Literal["set", "multiply", "add", "at_most", "at_least"]
Beyond = Literal["hold", "repeat", "mirror"]
Colour = Annotated[
    tuple[Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)]],
    Field(description="Linear-light red, green, blue (sRGB primaries); above 1 is brighter than paper white."),
]
Handle = Annotated[tuple[float, float], Field(description="Across and up from its key, in shares of the ranges.")]


class Key(Model):
    """A point of a curve, and how the curve goes on from it to the next key.

    A free piece is a cubic Bezier curve from this key by its handle `out` to the next key's handle `into`; handles are
    held between the two keys, so that the curve never turns back.
    """

    x: float = Field(ge=0, le=1, description="Share of the input range.")
    y: float = Field(ge=-1, le=2, description="Share of the output range.")
    shape: Literal["linear", "smooth", "hold", "free"] = "smooth"
    into: Handle | None = None
    out: Handle | None = None


class Curve(Model):
    """Keys in order of x. Before the first and after the last key the curve holds."""

    keys: list[Key] = Field(min_length=1, max_length=64)

    @model_validator(mode="after")
    def _in_order(self) -> Curve:
        if any(b.x - a.x < 1e-6 for a, b in pairwise(self.keys)):
            raise ValueError("keys must be in order of x, each at least 0.000001 after the one before")
        return self


class Stop(Model):
    """A colour of a gradient, and how the gradient goes on from it to the next."""

    x: float = Field(ge=0, le=1, description="Share of the input range.")
    colour: Colour
    shape: Literal["linear", "smooth", "hold"] = "linear"


class Gradient(Model):
    """Colours in order of x, mixed in linear light."""

    stops: list[Stop] = Field(min_length=1, max_length=32)

    @model_validator(mode="after")
    def _in_order(self) -> Gradient:
        if any(b.x - a.x < 1e-6 for a, b in pairwise(self.stops)):
            raise ValueError("stops must be in order of x, each at least 0.000001 after the one before")
        return self


Range = tuple[Number, Number]


class _ResponseBase(Model):
    uid: Uid
    source: Source
    read: Read = Field(default="live", description="Source read at birth and kept, or at every step. Without it, as the row can: at birth in "
                       "rows of births and draws, else live.")  # fmt: skip
    operation: Operation = "multiply"
    amount: Setting = Field(default=1, description="Share of the operation's effect, 0 to 1.")
    muted: bool = False


class _Ranged(_ResponseBase):
    input: Range = Field(description="Source values at the curve's left and right edge, in the source's unit.")
    beyond: Beyond = Field(default="hold", description="What becomes of source values outside the input range.")
    shift: Setting = Field(default=0, description="Moves the curve along the input, in shares of the input range.")


class CurveResponse(_Ranged):
    """source -> input range -> curve -> exponent -> output range -> operation."""

    kind: Literal["curve"] = "curve"
    curve: Curve
    exponent: Setting = Field(default=1, description="Power to which the curve's height is raised; its sign is kept.")
    output: tuple[Setting, Setting] = Field(description="Values at the curve's 0 and 1; in the row's unit, or a factor when multiplying.")
    component: Literal["all", "x", "y", "z"] = Field(default="all", description="On a vector row: what it acts on.")


class GradientResponse(_Ranged):
    """source -> input range -> gradient -> operation; for colour rows."""

    kind: Literal["gradient"] = "gradient"
    gradient: Gradient


class RatioResponse(_ResponseBase):
    """(source / reference) to a power: in proportion (1), in inverse proportion (-1), with the square (2)."""

    kind: Literal["ratio"] = "ratio"
    reference: Setting = Field(default=1, description="The source's value at which nothing changes, in the source's unit.")
    power: Setting = 1
    component: Literal["all", "x", "y", "z"] = "all"


Response = Annotated[CurveResponse | GradientResponse | RatioResponse, Field(discriminator="kind")]
Responses = Annotated[list[Response], Field(max_length=32)]


class NumberRow(Model):
    base: Annotated[Annotated[Number, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], _plain_or("sourced")]
    responses: Responses = []
    muted: bool = Field(default=False, description="None of its responses act.")


class VectorRow(Model):
    base: Annotated[Annotated[Vector, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], _plain_or("sourced")]
    responses: Responses = []
    muted: bool = False


class ColourRow(Model):
    base: Annotated[Annotated[Colour, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], _plain_or("sourced")]
    responses: Responses = []
    muted: bool = False


Row = NumberRow | VectorRow | ColourRow


def read_once(thing: object) -> None:
    """Let everything within that does not say when it is read be read at birth."""
    if isinstance(thing, (list, tuple)):
        for part in thing:
            read_once(part)
    elif isinstance(thing, Model):
        if "read" in type(thing).model_fields and "read" not in thing.model_fields_set:
            thing.read = "once"  # type: ignore[attr-defined]
        for name in type(thing).model_fields:
            read_once(getattr(thing, name))

# rows hold sources and sources may hold rows: close the circle
_names = {"NumberRow": NumberRow, "VectorRow": VectorRow}
for _model in (_sources.NoiseSource, _sources.DistanceSource, SourcedBase, CurveResponse, GradientResponse, RatioResponse,
               NumberRow, VectorRow, ColourRow):  # fmt: skip
    _model.model_rebuild(_types_namespace={**vars(_sources), **globals(), **_names})


def row_of(setting: float | tuple[float, float, float] | NumberRow | VectorRow) -> NumberRow | VectorRow:
    """Return a setting as the row it stands for."""
    if isinstance(setting, (NumberRow, VectorRow)):
        return setting
    if isinstance(setting, tuple):  # both were checked already, as parts of the document
        return VectorRow.model_construct(base=setting, responses=[], muted=False)
    return NumberRow.model_construct(base=setting, responses=[], muted=False)


__all__ = [
    "Beyond", "Colour", "ColourRow", "Curve", "CurveResponse", "Gradient", "GradientResponse", "Key", "NumberRow", "Operation",
    "Range", "RatioResponse", "Response", "Row", "Setting", "Stop", "VectorRow", "VectorSetting", "row_of",
]  # fmt: skip
