"""The speed of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import METRES_PER_SECOND


class SpeedSource(NumberAttribute):
    label, group, unit, usual = "speed", "motion", METRES_PER_SECOND, (0, 2)
    words = "fast slow quick"
    help = "How fast the particle moves."
    after = "launch"

    kind: Literal["speed"]

    def write(self, at: Reader) -> Values:
        return (at.builder.op("length", *at.state("velocity")),)
