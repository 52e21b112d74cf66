"""The colour of what a particle last touched, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import ColourAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ..contacts.base import Met
from .touch import OfTouch, kept, touches


class TouchColourSource(OfTouch, ColourAttribute):
    label, group, usual = "colour where it touched", "contacts", (0, 1)
    words = "contact picture texture surface impact"
    help = (
        "A component of the colour of the prop's surface, its picture included, where it last touched; white of "
        "anything else."
    )
    named_help = "The colour of the prop's surface where it last touched, linear light."
    example = Example(beside=("contact:prop",))

    kind: Literal["touch_colour"]

    def values(self, at: Reader) -> Values:
        b = at.builder
        if at.newborn or not touches(at.view):
            return (b.const(1),) * 3
        return b.multi("met_colour", *(kept(at, name) for name in ("which", "face", "u", "v")), attrs=(Met(at.owner),))
