"""The life of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import PERCENT


class LifeSource(NumberAttribute):
    label, group, unit, usual = "life", "time", PERCENT, (0, 1)
    words = "young old progress share percent"
    help = "Age as a share of the lifespan: 0 % at birth, 100 % at the end."
    after = "life"
    row_read = "births.lifespan"
    fixed = True

    kind: Literal["life"]

    def write(self, at: Reader) -> Values:
        b = at.builder
        if at.newborn:
            return (b.const(0),)
        return (b.op("clamp", b.op("share", at.state("age")[0], b.const(0), at.state("lifespan")[0])),)
