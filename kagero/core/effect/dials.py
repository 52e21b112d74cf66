"""Dials: named master controls of an effect, for those who adjust it without building it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .base import Model, Name, Number, Uid

DialUnit = Literal["", "×", "m", "m/s", "m/s²", "m²/s", "s", "/s", "%", "°", "°/s", "kg", "f"]


class Dial(Model):
    """A number of the whole effect. What it does is said by the rows, responses and formulas that read it."""

    uid: Uid
    name: Name
    value: Number
    low: Number
    high: Number
    default: Number
    unit: DialUnit = ""
    note: str = Field(default="", max_length=400)

    @model_validator(mode="after")
    def _within(self) -> Dial:
        if not self.low < self.high:
            raise ValueError("a dial's low end must lie below its high end")
        for name in ("value", "default"):
            if not self.low <= getattr(self, name) <= self.high:
                raise ValueError(f"a dial's {name} must lie between its ends")
        return self
