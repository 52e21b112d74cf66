"""The birth normal of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import VectorAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import PLAIN


class BirthNormalSource(VectorAttribute):
    label, group, unit, usual = "birth normal", "birth", PLAIN, (-1, 1)
    words = "facing outward"
    help = "Which way the surface faced where it was born; up where there is none."
    changes = False
    after = "place"
    example = Example(beside=("place:prop",))

    kind: Literal["birth_normal"]

    def values(self, at: Reader) -> Values:
        return at.kept_from_birth("birth_normal", 3, lambda birth: birth.birthplace()[3:6])
