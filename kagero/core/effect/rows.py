"""Rows and responses: a base value, and what drives it, in order."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Model, Number, Uid, Vector

Operation = Literal["set", "multiply", "add", "at_most", "at_least"]
Colour = Annotated[
    tuple[Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)]],
    Field(description="Linear-light red, green, blue (sRGB primaries); above 1 is brighter than paper white."),
]


class AttributeSource(Model):
    """Something every particle has."""

    kind: Literal["life", "age", "height", "speed", "size"]


class ClipTimeSource(Model):
    """Seconds since the clip's first frame: a response from it is what keyframes are."""

    kind: Literal["clip_time"]


class DrawSource(Model):
    """One of the emitter's draws: a random value the particle was given once, at birth."""

    kind: Literal["draw"]
    draw: Uid


Source = Annotated[AttributeSource | ClipTimeSource | DrawSource, Field(discriminator="kind")]


class Key(Model):
    """A point of a curve, and how the curve goes on from it to the next key."""

    x: float = Field(ge=0, le=1, description="Share of the input range.")
    y: float = Field(ge=-1, le=2, description="Share of the output range.")
    shape: Literal["linear", "smooth", "hold"] = "smooth"


class Curve(Model):
    """Keys in order of x. Before the first and after the last key the curve holds."""

    keys: list[Key] = Field(min_length=1, max_length=64)

    @model_validator(mode="after")
    def _in_order(self) -> Curve:
        if any(b.x - a.x < 1e-6 for a, b in pairwise(self.keys)):
            raise ValueError("keys must be in order of x, each at least 0.000001 after the one before")
        return self


class Stop(Model):
    x: float = Field(ge=0, le=1, description="Share of the input range.")
    colour: Colour


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
    read: Literal["once", "live"] = Field(description="Source read at birth and kept, or at every step.")
    input: Range = Field(description="Source values at the curve's left and right edge, in the source's unit.")
    operation: Operation = "multiply"
    amount: float = Field(default=1, ge=0, le=1, description="Share of the operation's effect.")
    muted: bool = False


class CurveResponse(_ResponseBase):
    """source -> input range -> curve -> output range -> operation."""

    kind: Literal["curve"] = "curve"
    curve: Curve
    output: Range = Field(description="Values at the curve's 0 and 1; in the row's unit, or a factor when multiplying.")
    component: Literal["all", "x", "y", "z"] = Field(default="all", description="On a vector row: what it acts on.")


class GradientResponse(_ResponseBase):
    """source -> input range -> gradient -> operation; for colour rows."""

    kind: Literal["gradient"] = "gradient"
    gradient: Gradient


Response = Annotated[CurveResponse | GradientResponse, Field(discriminator="kind")]
Responses = Annotated[list[Response], Field(max_length=32)]


class NumberRow(Model):
    base: Number
    responses: Responses = []


class VectorRow(Model):
    base: Vector
    responses: Responses = []


class ColourRow(Model):
    base: Colour
    responses: Responses = []


Row = NumberRow | VectorRow | ColourRow
