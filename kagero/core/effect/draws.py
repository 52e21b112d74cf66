"""Draws: random values a particle is given once, at birth. Bounds only scale the hash: editing them never redraws."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Model, Name, Number, Uid
from .rows import NumberRow, read_once


class _DrawBase(Model):
    uid: Uid
    name: Name

    @model_validator(mode="after")
    def _read_once(self) -> _DrawBase:
        for name in type(self).model_fields:
            read_once(getattr(self, name))
        return self


class UniformDraw(_DrawBase):
    """Evenly between two values."""

    kind: Literal["uniform"] = "uniform"
    low: NumberRow = NumberRow(base=0)
    high: NumberRow = NumberRow(base=1)


class SpreadDraw(_DrawBase):
    """Evenly within a spread to both sides of a centre."""

    kind: Literal["spread"]
    centre: NumberRow = NumberRow(base=0)
    spread: NumberRow = NumberRow(base=1)


class NormalDraw(_DrawBase):
    """Normally distributed; on request without its sign, and held between two bounds."""

    kind: Literal["normal"]
    mean: NumberRow = NumberRow(base=0)
    deviation: NumberRow = NumberRow(base=1)
    absolute: bool = False
    clamped: bool = False
    lowest: NumberRow = NumberRow(base=-1)
    highest: NumberRow = NumberRow(base=1)


class Option(Model):
    value: Number
    weight: float = Field(default=1, ge=0, le=1e6)


class ChoiceDraw(_DrawBase):
    """One of a few values, each as often as its weight says."""

    kind: Literal["choice"]
    options: list[Option] = Field(min_length=1, max_length=32)


class SignDraw(_DrawBase):
    """+1 with a chance, else -1."""

    kind: Literal["sign"]
    chance: NumberRow = NumberRow(base=0.5)


class IntegerDraw(_DrawBase):
    """A whole number between two, both included."""

    kind: Literal["integer"]
    low: NumberRow = NumberRow(base=0)
    high: NumberRow = NumberRow(base=3)


Draw = Annotated[UniformDraw | SpreadDraw | NormalDraw | ChoiceDraw | SignDraw | IntegerDraw, Field(discriminator="kind")]

BOUNDS: dict[str, tuple[str, ...]] = {
    "uniform": ("low", "high"),
    "spread": ("centre", "spread"),
    "normal": ("mean", "deviation", "lowest", "highest"),
    "choice": (),
    "sign": ("chance",),
    "integer": ("low", "high"),
}
