"""The brightness of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader, luminance
from ...rows.units import PLAIN


class BrightnessSource(NumberAttribute):
    label, group, unit, usual = "brightness", "look", PLAIN, (0, 1)
    words = "light dark luminance"
    help = "How light the particle's colour is: luminance in linear light."
    row_read = "look.colour"

    kind: Literal["brightness"]

    def write(self, at: Reader) -> Values:
        return (luminance(at.builder, at.row("look.colour")),)
