"""The surface normal where a particle rides, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import PLAIN
from ...rows.view import find_thing
from .ridevector import RideVector


class RideNormalSource(RideVector):
    """The surface normal where the particle rides: which way the surface faces."""

    label, unit, usual = "surface normal", PLAIN, (-1, 1)
    words = "surface faces out direction"
    help = "Which way the surface faces where the particle rides."
    example = Example(beside=("ride:surface",))

    kind: Literal["ride_normal"]

    def values(self, at: Reader) -> Values:
        return find_thing(at.view.thing.rides, self.ride).normal(at)
