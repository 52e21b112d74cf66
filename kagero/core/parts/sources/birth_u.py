"""The birth u of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import PLAIN


class BirthUSource(NumberAttribute):
    label, group, unit, usual = "birth u", "birth", PLAIN, (0, 1)
    words = "texture across"
    help = "How far round the shape it was born, from 0 to 1."
    changes = False
    after = "place"
    fixed = True
    example = Example(beside=("place:prop",))

    kind: Literal["birth_u"]

    def write(self, at: Reader) -> Values:
        return at.kept_from_birth("birth_u", 1, lambda birth: (birth.birthplace()[6],))
