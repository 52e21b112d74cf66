"""The size of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import METRES


class SizeSource(NumberAttribute):
    label, group, unit, usual = "size", "look", METRES, (0, 0.2)
    words = "big small large"
    help = "The particle's own size at this moment."
    row_read = "look.size"

    kind: Literal["size"]

    def write(self, at: Reader) -> Values:
        return at.row("look.size")
