"""Which way what a particle last touched faces, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import VectorAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.units import PLAIN
from .touch import OfTouch, kept


class TouchNormalSource(OfTouch, VectorAttribute):
    label, group, unit, usual = "normal where it touched", "contacts", PLAIN, (-1, 1)
    words = "contact surface faces direction impact"
    help = "Which way the surface faces where it last touched a contact; nothing before."
    example = Example(beside=("contact:sphere",))

    kind: Literal["touch_normal"]

    def values(self, at: Reader) -> Values:
        return tuple(kept(at, f"normal.{i}") for i in range(3))
