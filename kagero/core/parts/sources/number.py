"""The number of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import PLAIN


class NumberSource(NumberAttribute):
    label, group, unit, usual = "number", "birth", PLAIN, (0, 100)
    words = "index count order nth"
    help = "Which birth of its rate or burst this is. Repeat it to take turns."
    changes = False

    kind: Literal["number"]

    def write(self, at: Reader) -> Values:
        return (at.builder.op("number", at.builder.input("key")),)
