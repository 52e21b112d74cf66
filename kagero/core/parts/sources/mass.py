"""The mass of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import KILOGRAMS


class MassSource(NumberAttribute):
    label, group, unit, usual = "mass", "motion", KILOGRAMS, (0, 2)
    words = "heavy light weight"
    help = "What the particle weighs."
    changes = False
    row_read = "births.mass"

    kind: Literal["mass"]

    def write(self, at: Reader) -> Values:
        return at.row("births.mass")
