"""The opacity of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import PERCENT


class OpacitySource(NumberAttribute):
    label, group, unit, usual = "opacity", "look", PERCENT, (0, 1)
    words = "transparent faded alpha"
    help = "The particle's own opacity at this moment."
    row_read = "look.opacity"

    kind: Literal["opacity"]

    def write(self, at: Reader) -> Values:
        return at.row("look.opacity")
