"""The age of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import SECONDS


class AgeSource(NumberAttribute):
    label, group, unit, usual = "age", "time", SECONDS, (0, 2)
    words = "old young since birth seconds"
    help = "Seconds since birth."
    after = "life"

    kind: Literal["age"]

    def write(self, at: Reader) -> Values:
        return at.state("age")
