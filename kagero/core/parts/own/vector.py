"""A vector of an emitter's own."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from ...rows.model import Setting
from ...rows.responses import VectorRow, vector
from .base import CHANGE, HIGH, LOW, START, High, Low, OwnPart


class OwnVector(OwnPart):
    help = "Three numbers: a remembered place, an offset."
    offers = (
        ("Running place", "with memory", "Three numbers that change by so much a second.", "counter", {"memory": True}),
        ("Vector", "set at birth", "Three numbers a particle keeps from its birth.", "place", {}),
    )

    label = "vector"

    kind: Literal["vector"]
    unit: Annotated[Literal["", "m", "m/s"], Setting("Unit", "What its values are.", choices=(("", "no unit"),))] = ""
    start: Annotated[VectorRow, replace(START, default=(0.0, 0.0, 0.0))] = vector(0.0, 0.0, 0.0)
    change: Annotated[VectorRow, replace(CHANGE, default=(0.0, 0.0, 0.0))] = vector(0.0, 0.0, 0.0)
    lowest: Low = LOW
    highest: High = HIGH
