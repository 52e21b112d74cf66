"""A launch away from a point."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.model import Guide
from ...rows.responses import vector
from ..places import BirthReader
from .base import INHERIT, Cone, Inherit, LaunchPart, Origin, Speed, away


class AwayFrom(LaunchPart):
    """From a point outward through where each is born."""

    label = "away from a point"
    help = "From a point outward through where each is born."
    guides = (Guide("cross", at="origin"),)

    aim: Literal["away"]
    cone: Cone
    speed: Speed
    origin: Origin = vector(0.0, 0.0, 0.0)
    inherit: Inherit = INHERIT

    def direction_of(self, at: BirthReader) -> Values:
        return away(at, self.row(at, "origin"))
