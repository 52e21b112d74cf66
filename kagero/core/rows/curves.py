"""Curves and gradients in the document."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .model import Model

Colour = Annotated[
    tuple[
        Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)], Annotated[float, Field(ge=0, le=64)]
    ],
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
