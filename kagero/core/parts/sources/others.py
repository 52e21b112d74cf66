"""How many others a particle touches, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values, dimension_of
from ...rows.collision_state import COUNT
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import Listed, SourcePart, source_of
from ...rows.view import View


def meet(view: View) -> bool:
    """Return whether an emitter's particles meet each other."""
    return any(each.mutual and not each.muted for each in view.thing.contacts)


class OthersSource(SourcePart):
    """How many others a particle touches, where an emitter's particles meet each other."""

    label, group, usual = "others touched", "contacts", (0, 6)
    words = "collide each other crowd pile"
    help = "How many others of its emitter it touches, as the step before ended."
    example = Example(beside=("contact:others",))

    kind: Literal["others"]

    def missing(self, view: View) -> str:
        return "" if meet(view) else "whom it touches, and these particles do not meet each other"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if meet(view):
            yield from super().listed(view)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if meet(view):
            yield Known(
                "others_touched",
                "number",
                dimension_of(""),
                source_of({"kind": "others"}),
                cls.label,
                cls.help,
                "",
                True,
                True,
            )

    def write(self, at: Reader) -> Values:
        return (at.builder.const(0) if at.newborn or not meet(at.view) else at.builder.input(COUNT),)
