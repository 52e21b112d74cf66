"""Dials: named master controls of an effect, for those who adjust it without building it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..rows.model import SAID, VALUE, Model, Name, Number, Uid

DialUnit = Literal["", "×", "m", "m/s", "m/s²", "m²/s", "s", "/s", "%", "°", "°/s", "kg", "f"]


class Dial(Model):
    """A number of the whole effect. What it does is said by the rows, responses and formulas that read it."""

    uid: Uid
    name: Annotated[Name, SAID]
    value: Annotated[Number, VALUE]
    low: Annotated[Number, VALUE]
    high: Annotated[Number, VALUE]
    default: Annotated[Number, VALUE]
    unit: DialUnit = ""
    note: Annotated[str, SAID] = Field(default="", max_length=400)

    @model_validator(mode="after")
    def _within(self) -> Dial:
        if not self.low < self.high:
            raise ValueError("a dial's low end must lie below its high end")
        for name in ("value", "default"):
            if not self.low <= getattr(self, name) <= self.high:
                raise ValueError(f"a dial's {name} must lie between its ends")
        return self
