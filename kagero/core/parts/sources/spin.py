"""The spin of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import DEGREES_PER_SECOND


class SpinSource(NumberAttribute):
    label, group, unit, usual = "spin", "motion", DEGREES_PER_SECOND, (-3, 3)
    words = "turning tumbling"
    help = "How fast the particle turns."
    row_read = "motion.spin"

    kind: Literal["spin"]

    def write(self, at: Reader) -> Values:
        return at.row("motion.spin")
