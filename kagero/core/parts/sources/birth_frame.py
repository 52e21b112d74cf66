"""The birth frame of a particle as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.units import FRAMES


class BirthFrameSource(NumberAttribute):
    label, group, unit, usual = "birth frame", "birth", FRAMES, (0, 100)
    words = "when born"
    help = "The frame at which the particle was born."
    changes = False

    kind: Literal["birth_frame"]

    def write(self, at: Reader) -> Values:
        return at.kept_from_birth("birth_frame", 1, lambda birth: (birth.frame(),))
