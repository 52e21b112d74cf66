"""Own attributes: what an effect gives its particles besides what every particle has."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Model, Name, Uid
from .rows import ColourRow, NumberRow, VectorRow, read_once


class _OwnBase(Model):
    """Set at birth; where it remembers, changed every step from its own last value.

    With memory a step makes it last value + change x seconds, and, when held, no less than lowest and no more than
    highest. Without, it stays what it was at birth.
    """

    uid: Uid
    name: Name
    memory: bool = False
    held: bool = False
    lowest: NumberRow = NumberRow(base=0)
    highest: NumberRow = NumberRow(base=1)

    @model_validator(mode="after")
    def _read_once(self) -> _OwnBase:
        read_once(getattr(self, "start", None))
        return self


class OwnNumber(_OwnBase):
    kind: Literal["number"] = "number"
    unit: Literal["", "m", "m/s", "s", "%", "°"] = ""
    start: NumberRow = NumberRow(base=0)
    change: NumberRow = NumberRow(base=0)


class OwnVector(_OwnBase):
    kind: Literal["vector"]
    unit: Literal["", "m", "m/s"] = ""
    start: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))
    change: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))


class OwnColour(_OwnBase):
    kind: Literal["colour"]
    start: ColourRow = ColourRow(base=(1.0, 1.0, 1.0))
    change: VectorRow = VectorRow(base=(0.0, 0.0, 0.0))


Own = Annotated[OwnNumber | OwnVector | OwnColour, Field(discriminator="kind")]
