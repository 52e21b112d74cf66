"""Births: how many, when, where, for how long, and how they set off."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Model, Uid
from .rows import Curve, NumberRow, VectorRow, read_once


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


class Density(Model):
    """A picture on a prop that says how dense births are: in proportion to a channel, through a curve. picture: a picture prop."""

    picture: Uid
    channel: Literal["luminance", "red", "green", "blue", "alpha"] = "luminance"
    invert: bool = False
    curve: Curve | None = Field(default=None, description="From the channel's value to the density; without one, in proportion.")


class OnProp(Model):
    """On or in a prop, wherever it stands and however it moves. even: by area, volume or length, as the prop is at rest."""

    kind: Literal["prop"]
    prop: Uid
    on: Literal["surface", "inside", "points", "edges"] = "surface"
    offset: NumberRow = NumberRow(base=0)
    density: Density | None = None


class FromParticles(Model):
    """From another emitter's particles, while these live. Each leaves births at the rate, from its own birth on."""

    kind: Literal["particles"]
    emitter: Uid
    inherit_size: NumberRow = NumberRow(base=0)
    inherit_colour: NumberRow = NumberRow(base=0)


Place = Annotated[Point | Disc | Sphere | Box | OnProp | FromParticles, Field(discriminator="kind")]


class Launch(Model):
    """How particles set off. aim: what the direction is; guide: the mesh whose distance gives the speed of a guided burst."""

    direction: VectorRow
    cone: NumberRow
    speed: NumberRow
    aim: Literal["direction", "normal", "away", "guided"] = "direction"
    space: Literal["world", "own"] = Field(default="world", description="Whether the direction is the world's or turns with the prop.")
    origin: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))
    inherit: NumberRow = NumberRow(base=0)
    guide: Uid | None = None
    multiplier: NumberRow = NumberRow(base=1)
    offset: NumberRow = NumberRow(base=0)


class Births(Model):
    @model_validator(mode="after")
    def _read_once(self) -> Births:
        for name in type(self).model_fields:
            if name != "rate":  # it is read as time goes
                read_once(getattr(self, name))
        return self

    rate: NumberRow
    per: Literal["second", "frame"] = "second"
    limit: int | None = Field(
        default=None, ge=0, le=5_000_000,
        description="At most so many births over the clip that come to be, bursts among them; of births from particles, at most so many "
        "from each, kept or not.",
    )  # fmt: skip
    keep: NumberRow = NumberRow(base=1)
    when: Literal["rate", "each"] = Field(default="rate", description="Whether the rate says when births happen, or `begins` does for each.")
    begins: NumberRow = NumberRow(base=0)
    start: float = Field(default=0, ge=0, le=100_000, description="Seconds after the clip's first frame; at 0 it begins with the run-up.")
    duration: float | None = Field(default=None, gt=0, le=100_000, description="Seconds; null: to the clip's end.")
    every: float | None = Field(default=None, gt=0, le=100_000, description="Seconds after which it runs once more, and so on; null: once.")
    bursts: list[Burst] = Field(default=[], max_length=256)
    place: Place
    lifespan: NumberRow
    launch: Launch
    mass: NumberRow = NumberRow(base=1)
    rotation: NumberRow = NumberRow(base=0)
