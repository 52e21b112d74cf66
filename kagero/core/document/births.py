"""Births: how many, when, where, for how long, and how they set off."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..parts.launches import LAUNCHES, LaunchPart
from ..parts.places import PLACES, PlacePart
from ..rows.model import STRUCTURAL_IF_CHANGED, VALUE, Driven, FieldFacts, Model, Part, Refers, Uid
from ..rows.responses import NumberRow, number, read_once
from ..rows.units import DEGREES, KILOGRAMS, PER_SECOND, PERCENT, SECONDS, Unit

Place = Annotated[PlacePart, PLACES]
Launch = Annotated[LaunchPart, LAUNCHES]


class Burst(Model):
    uid: Uid
    frame: int = Field(ge=-1_000_000, le=1_000_000)
    after: Annotated[
        Uid | None,
        Refers(
            "moments",
            "",
            "{name} has a burst at a moment that is not there.",
            "Choose another, or let it stand at a frame.",
        ),
    ] = Field(default=None, description="The moment from which its frame is counted; null: it is a frame of the clip.")
    count: int = Field(ge=0, le=5_000_000)


class Births(Part):
    band, stage = "births", "birth"

    rate: Annotated[
        NumberRow,
        Driven(
            "Rate",
            PER_SECOND,
            0,
            1_000_000,
            200,
            60,
            "How many particles are born each second. Drive it from clip time to make it start, pulse and stop.",
            "emitter",
            True,
        ),
    ]
    per: Literal["second", "frame", "metre"] = Field(
        default="second", description="What the rate counts by; metre: of the way that a prop goes."
    )
    going: Annotated[
        Uid | None,
        Refers("props", "placed", "{name} counts births by the way of a prop that is not there.", "Choose another."),
    ] = Field(
        default=None,
        description="The prop whose way births count by where they count by the metre; null: the one that they are on.",
    )
    limit: Annotated[int | None, VALUE] = Field(
        default=None,
        ge=0,
        le=5_000_000,
        description="At most so many births over the clip that come to be, bursts among them; of births from "
        "particles, at most so many "
        "from each, kept or not.",
    )
    place: Place
    keep: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Kept births",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "The share of births that come to be, judged where each would be born: by a mask, noise, a picture, a "
            "condition.",
        ),
    ] = number(1)
    when: Literal["rate", "each"] = Field(
        default="rate", description="Whether the rate says when births happen, or `begins` does for each."
    )
    begins: Annotated[
        NumberRow,
        Driven(
            "Begins at",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "When each birth happens, as a share of the emitter's duration: from a picture's brightness, darkest "
            "first; from a place; from a draw.",
        ),
    ] = number(0)
    start: Annotated[float, VALUE] = Field(
        default=0, ge=0, le=100_000, description="Seconds after the clip's first frame; at 0 it begins with the run-up."
    )
    after: Annotated[
        Uid | None,
        Refers(
            "moments", "", "{name} begins at a moment that is not there.", "Choose another, or let it begin at a time."
        ),
    ] = Field(default=None, description="The moment from which `start` is counted; null: the clip's first frame.")
    until: Annotated[
        Uid | None,
        Refers(
            "moments",
            "",
            "{name} gives births until a moment that is not there.",
            "Choose another, or give births a duration.",
        ),
    ] = Field(
        default=None, description="The moment at which births end, whatever their duration; null: they end by that."
    )
    duration: Annotated[float | None, VALUE] = Field(
        default=None, gt=0, le=100_000, description="Seconds; null: to the clip's end."
    )
    every: Annotated[float | None, VALUE] = Field(
        default=None, gt=0, le=100_000, description="Seconds after which it runs once more, and so on; null: once."
    )
    bursts: Annotated[list[Burst], VALUE] = Field(default=[], max_length=256)
    lifespan: Annotated[
        NumberRow,
        Driven(
            "Lifespan",
            SECONDS,
            0.001,
            100_000,
            4,
            2.0,
            "How long a particle lives, from birth to end. Vary it, so that not all end together.",
            None,
            True,
        ),
    ]
    launch: Launch
    mass: Annotated[
        NumberRow,
        Driven(
            "Mass",
            KILOGRAMS,
            0.000001,
            1_000_000,
            4,
            1.0,
            "How much a particle resists wind, drag and noise; at 1 kg they act as they say. Gravity pulls all alike.",
        ),
    ] = number(1)
    rotation: Annotated[
        NumberRow,
        Driven(
            "Rotation",
            DEGREES,
            -10_000,
            10_000,
            6,
            0.0,
            "The angle, in the picture, at which a particle is born. It shows on particles that are not round.",
        ),
    ] = number(0)

    @model_validator(mode="after")
    def _read_once(self) -> Births:
        for name in type(self).model_fields:
            if name != "rate":  # it is read as time goes
                read_once(getattr(self, name))
        return self

    @classmethod
    def rows_key(cls) -> str:
        return "births"

    def driven(self, facts: FieldFacts) -> Driven | None:
        """A rate by the frame says so."""
        driven = facts.driven
        if driven is None or facts.name != "rate" or self.per == "second":
            return driven
        return replace(driven, unit=Unit("/frame") if self.per == "frame" else Unit("/m", 1, 0), drag=10)

    def goes_by(self) -> str | None:
        """Return the uid of the prop by whose way births count; None where they count by time, or by no prop's."""
        return (self.going or self.place.prop_on()) if self.per == "metre" else None

    def unused(self) -> frozenset[str]:
        idle = {"begins"} if self.when == "rate" or self.place.parted else set()
        idle |= {"rate"} if self.place.counted else set()
        return frozenset(idle | (set() if self.place.bears else {"launch.inherit"}))
