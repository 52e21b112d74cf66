"""Births at a point."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Guide
from ...rows.responses import VectorRow
from .base import BirthReader, PlacePart
from .shape import CENTRE


class Point(PlacePart):
    label = "Point"
    help = "All are born in one place."
    guides = (Guide("cross", at="centre"),)

    kind: Literal["point"] = "point"
    centre: Annotated[VectorRow, CENTRE]

    def born(self, at: BirthReader) -> Values:
        zero, one = at.builder.const(0), at.builder.const(1)
        return (*self.row(at, "centre"), zero, one, zero, zero, zero)
