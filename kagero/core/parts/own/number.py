"""A number of an emitter's own."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Setting
from ...rows.responses import NumberRow, number
from .base import CHANGE, HIGH, LOW, START, High, Low, OwnPart


class OwnNumber(OwnPart):
    help = "A number: set at birth, or counted up and down with memory."
    offers = (
        (
            "Counter",
            "with memory",
            "A number that grows or falls by so much a second.",
            "counter",
            {"memory": True, "held": True, "change": {"base": 1, "responses": []}},
        ),
        ("Number", "set at birth", "A number a particle keeps from its birth.", "value", {}),
    )

    label = "number"

    kind: Literal["number"] = "number"
    unit: Annotated[
        Literal["", "m", "m/s", "s", "%", "°"], Setting("Unit", "What its values are.", choices=(("", "no unit"),))
    ] = ""
    start: Annotated[NumberRow, START] = number(0)
    change: Annotated[NumberRow, CHANGE] = number(0)
    lowest: Low = LOW
    highest: High = HIGH
