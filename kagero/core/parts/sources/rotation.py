"""The rotation of a particle as a source."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.source import Node
from ...rows.units import DEGREES
from ...rows.view import View


class RotationSource(NumberAttribute):
    label, group, unit, usual = "rotation", "motion", DEGREES, (0, 2 * math.pi)
    words = "turned angle"
    help = "The angle the particle has turned to in the picture."

    kind: Literal["rotation"]

    def write(self, at: Reader) -> Values:
        return at.state("rotation")

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        if stage == "birth":
            yield "birth", "births.rotation"
