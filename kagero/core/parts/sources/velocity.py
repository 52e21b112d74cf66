"""The velocity of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import VectorAttribute
from ...rows.reader import Reader
from ...rows.units import METRES_PER_SECOND


class VelocitySource(VectorAttribute):
    label, group, unit, usual = "velocity", "motion", METRES_PER_SECOND, (-1, 1)
    words = "direction heading moving"
    help = "Where and how fast the particle moves."
    after = "launch"
    along = True

    kind: Literal["velocity"]

    def values(self, at: Reader) -> Values:
        return at.state("velocity")
