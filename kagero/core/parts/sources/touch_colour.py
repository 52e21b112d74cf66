"""The colour of what a particle last touched, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values
from ...rows.attributes import ColourAttribute
from ...rows.reader import Reader
from ...rows.source import Listed
from ...rows.view import View
from ..contacts.base import Met
from .touch import kept, only_where_touched, touches


class TouchColourSource(ColourAttribute):
    label, group, usual = "colour where it touched", "contacts", (0, 1)
    words = "contact picture texture surface impact"
    help = "A component of the colour of the prop's surface, its picture included, where it last touched; white of anything else."
    named_help = "The colour of the prop's surface where it last touched, linear light."

    kind: Literal["touch_colour"]

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
        b = at.builder
        if at.newborn or not touches(at.view):
            return (b.const(1),) * 3
        return b.multi("met_colour", *(kept(at, name) for name in ("which", "face", "u", "v")), attrs=(Met(at.owner),))
