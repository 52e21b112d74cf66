"""The height of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import METRES


class HeightSource(NumberAttribute):
    label, group, unit, usual = "height", "place", METRES, (0, 2)
    words = "up above below high low"
    help = "Metres above the ground plane."
    after = "place"

    kind: Literal["height"]

    def write(self, at: Reader) -> Values:
        return (at.state("position")[1],)
