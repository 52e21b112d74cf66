"""The lifespan of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import SECONDS


class LifespanSource(NumberAttribute):
    label, group, unit, usual = "lifespan", "time", SECONDS, (0, 4)
    words = "how long lives"
    help = "How long the particle will have lived when it ends."
    changes = False
    row_read = "births.lifespan"

    kind: Literal["lifespan"]

    def write(self, at: Reader) -> Values:
        return at.state("lifespan")
