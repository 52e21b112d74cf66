"""The birth v of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import PLAIN


class BirthVSource(NumberAttribute):
    label, group, unit, usual = "birth v", "birth", PLAIN, (0, 1)
    words = "texture along"
    help = "How far out or up the shape it was born, from 0 to 1."
    changes = False
    after = "place"
    fixed = True
    example = Example(beside=("place:prop",))

    kind: Literal["birth_v"]

    def write(self, at: Reader) -> Values:
        return at.kept_from_birth("birth_v", 1, lambda birth: (birth.birthplace()[7],))
