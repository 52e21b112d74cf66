"""The surface velocity where a particle rides, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import METRES_PER_SECOND
from ...rows.view import find_thing
from .ridevector import RideVector


class RideVelocitySource(RideVector):
    """The surface velocity where the particle rides: how the place itself moves."""

    label, unit, usual = "surface velocity", METRES_PER_SECOND, (0, 2)
    words = "surface moving carried"
    help = "How the place moves where the particle rides: with the prop, its turns and its bends."
    example = Example(beside=("ride:surface",))

    kind: Literal["ride_velocity"]

    def values(self, at: Reader) -> Values:
        return find_thing(at.view.thing.rides, self.ride).velocity(at)
