"""The birth position of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import VectorAttribute
from ...rows.reader import Reader
from ...rows.units import METRES


class BirthPositionSource(VectorAttribute):
    label, group, unit, usual = "birth position", "birth", METRES, (-1, 1)
    words = "where born start"
    help = "Where the particle was born."
    changes = False
    after = "place"

    kind: Literal["birth_position"]

    def values(self, at: Reader) -> Values:
        return at.kept_from_birth("birth_position", 3, lambda birth: birth.birthplace()[:3])
