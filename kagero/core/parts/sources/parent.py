"""What a particle's parent was, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.attributes import part_of
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, Node, SourceFacts, SourcePart
from ...rows.units import METRES, METRES_PER_SECOND, PERCENT, PLAIN, SECONDS
from ...rows.view import View

PARTS = {
    "age": ("age", SECONDS, (0, 2), "The parent's age at this particle's birth."),
    "life": ("life", PERCENT, (0, 1), "How much of its life the parent had behind it at this particle's birth."),
    "size": ("size", METRES, (0, 0.2), "The parent's size at this particle's birth."),
    "speed": ("speed", METRES_PER_SECOND, (0, 2), "The parent's speed at this particle's birth."),
    "opacity": ("opacity", PERCENT, (0, 1), "The parent's opacity at this particle's birth."),
}


class ParentSource(SourcePart):
    """What the particle that this one came from was, at this one's birth."""

    label, group, unit = "parent", "parent", PERCENT
    words = "emitter comes from"
    help = "What the parent was at this particle's birth."
    changes, shape = False, "colour"
    example = Example(beside=("place:particles",))

    kind: Literal["parent"]
    part: Annotated[Literal["age", "life", "size", "speed", "opacity", "red", "green", "blue", "whole"], NAMING] = (
        "life"
    )

    def facts(self, view: View) -> SourceFacts:
        facts = self.kind_facts()
        if self.part in PARTS:
            words, unit, usual, _ = PARTS[self.part]
            return replace(facts, label=f"parent {words}", unit=unit, input=usual, shape="number")
        facts = replace(facts, unit=PLAIN)
        return (
            replace(facts, label="parent colour")
            if self.part == "whole"
            else replace(facts, label=f"parent {self.part}", shape="number")
        )

    def missing(self, view: View) -> str:
        return "" if view.has_parent else "a parent; particles of this emitter have none"

    def column(self) -> str:
        return f"parent.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if view.has_parent:
            for part, (*_, help) in PARTS.items():
                yield cls.entry({"kind": "parent", "part": part}, "parent", help)
            for part in ("red", "green", "blue", "whole"):
                yield cls.entry(
                    {"kind": "parent", "part": part}, "parent", "The parent's colour at this particle's birth."
                )

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        return iter(())  # another particle's rows

    def write(self, at: Reader) -> Values:
        if self.part in PARTS:
            return at.parent(self.part, 1)
        return part_of(at, at.parent("colour", 3), self.part)
