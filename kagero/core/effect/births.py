"""Births: how many, when, where, for how long, and how they set off."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .base import Model, Uid
from .rows import NumberRow, VectorRow


class Burst(Model):
    uid: Uid
    frame: int = Field(ge=-1_000_000, le=1_000_000)
    count: int = Field(ge=0, le=5_000_000)


class Point(Model):
    kind: Literal["point"] = "point"
    centre: VectorRow


class Disc(Model):
    """A level disc; inside means anywhere on it, surface means its rim."""

    kind: Literal["disc"] = "disc"
    centre: VectorRow
    radius: NumberRow
    on: Literal["inside", "surface"] = "inside"


class Sphere(Model):
    kind: Literal["sphere"] = "sphere"
    centre: VectorRow
    radius: NumberRow
    on: Literal["inside", "surface"] = "inside"


class Box(Model):
    kind: Literal["box"] = "box"
    centre: VectorRow
    size: VectorRow
    on: Literal["inside", "surface"] = "inside"


Place = Annotated[Point | Disc | Sphere | Box, Field(discriminator="kind")]


class Launch(Model):
    direction: VectorRow
    cone: NumberRow
    speed: NumberRow


class Births(Model):
    rate: NumberRow
    start: float = Field(default=0, ge=0, le=100_000, description="Seconds after the clip's first frame.")
    duration: float | None = Field(default=None, gt=0, le=100_000, description="Seconds; null: to the clip's end.")
    bursts: list[Burst] = Field(default=[], max_length=256)
    place: Place
    lifespan: NumberRow
    launch: Launch
    mass: NumberRow = NumberRow(base=1)
    rotation: NumberRow = NumberRow(base=0)
