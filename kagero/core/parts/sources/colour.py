"""The colour of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import ColourAttribute
from ...rows.reader import Reader


class ColourSource(ColourAttribute):
    """The particle's colour at this moment."""

    label, group, usual = "colour", "look", (0, 1)
    words = "hue red green blue"
    help = "A component of the particle's own colour."
    named_help = "The particle's own colour, linear light."
    row_read = "look.colour"

    kind: Literal["colour"]

    def values(self, at: Reader) -> Values:
        return at.row("look.colour")
