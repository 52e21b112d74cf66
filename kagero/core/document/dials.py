"""Dials: named master controls of an effect, for those who adjust it without building it."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..rows.model import DISPLAY_ONLY, VALUE, Model, Name, Number, Uid

DialUnit = Literal["", "×", "m", "m/s", "m/s²", "m²/s", "s", "/s", "%", "°", "°/s", "kg", "f"]


class DialKey(Model):
    """What a dial is turned to at a time of the clip, and how it goes on from there to the next key."""

    time: float = Field(ge=-100_000, le=100_000, description="Clip time, seconds.")
    value: Number
    shape: Literal["linear", "smooth", "hold"] = "smooth"


class Dial(Model):
    """A number of the whole effect. What it does is said by the rows, responses and formulas that read it."""

    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    value: Annotated[Number, VALUE]
    low: Annotated[Number, VALUE]
    high: Annotated[Number, VALUE]
    default: Annotated[Number, VALUE]
    unit: DialUnit = ""
    note: Annotated[str, DISPLAY_ONLY] = Field(default="", max_length=400)
    group: Annotated[str, DISPLAY_ONLY] = Field(
        default="", max_length=80, description="Under which heading it stands among the dials."
    )
    keys: Annotated[list[DialKey], VALUE] = Field(
        default=[],
        max_length=256,
        description="Over the clip, in order of time; it holds before the first and after the last. Without any it "
        "stays at its value.",
    )

    @model_validator(mode="after")
    def _within(self) -> Dial:
        if not self.low < self.high:
            raise ValueError("a dial's low end must lie below its high end")
        for name in ("value", "default"):
            if not self.low <= getattr(self, name) <= self.high:
                raise ValueError(f"a dial's {name} must lie between its ends")
        if any(b.time - a.time < 1e-6 for a, b in pairwise(self.keys)):
            raise ValueError("a dial's keys must be in order of time, each at least 0.000001 s after the one before")
        if any(not self.low <= key.value <= self.high for key in self.keys):
            raise ValueError("a dial's keys must lie between its ends")
        return self


class Settings(Model):
    """What all dials were turned to, kept under a name to be recalled; a dial that is not named stays as it is."""

    uid: Uid
    name: Name
    values: dict[Uid, Number] = Field(max_length=64)
