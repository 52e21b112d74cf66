"""The position of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import VectorAttribute
from ...rows.reader import Reader
from ...rows.units import METRES


class PositionSource(VectorAttribute):
    label, group, unit, usual = "position", "place", METRES, (-1, 1)
    words = "where place"
    help = "Where the particle is."
    after = "place"
    along = True

    kind: Literal["position"]

    def values(self, at: Reader) -> Values:
        return at.state("position")
