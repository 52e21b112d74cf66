"""Which way what a particle last touched faces, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values
from ...rows.attributes import VectorAttribute
from ...rows.reader import Reader
from ...rows.source import Listed
from ...rows.units import PLAIN
from ...rows.view import View
from .touch import kept, only_where_touched, touches


class TouchNormalSource(VectorAttribute):
    label, group, unit, usual = "normal where it touched", "contacts", PLAIN, (-1, 1)
    words = "contact surface faces direction impact"
    help = "Which way the surface faces where it last touched a contact; nothing before."

    kind: Literal["touch_normal"]

    def missing(self, view: View) -> str:
        return only_where_touched(self, view)

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if touches(view):
            yield from super().listed(view)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if touches(view):
            yield from super().named(view)

    def values(self, at: Reader) -> Values:
        return tuple(kept(at, f"normal.{i}") for i in range(3))
