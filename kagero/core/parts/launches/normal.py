"""A launch along the normal."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ..places import BirthReader
from .base import INHERIT, Cone, Inherit, LaunchPart, Speed


class AlongNormal(LaunchPart):
    """Away from the surface where each is born."""

    label = "along the normal"
    help = "Away from the surface where each is born."

    aim: Literal["normal"]
    cone: Cone
    speed: Speed
    inherit: Inherit = INHERIT

    def direction_of(self, at: BirthReader) -> Values:
        return at.birthplace()[3:6]
