"""A particle's target as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.units import METRES, PLAIN, SECONDS
from ...rows.view import View

PARTS = {
    "distance": ("distance to its target", METRES, "Metres between the particle and its own target."),
    "arrived": ("arrived", PLAIN, "1 once the particle has been at its target, else 0."),
    "since": ("arrived since", SECONDS, "Seconds since the particle first was at its target; 0 before."),
}


class TargetSource(SourcePart):
    """How far the particle is from its own target, whether it has arrived there, and for how long."""

    label, group, usual = "target", "motion", (0, 2)
    words = "gather goal home reached"
    help = "How far the particle is from its target, and whether it has arrived."
    after = "place"
    example = Example(beside=("force:toward_target",))

    kind: Literal["target"]
    part: Annotated[Literal["distance", "arrived", "since"], NAMING] = "distance"

    def facts(self, view: View) -> SourceFacts:
        words, unit, _ = PARTS[self.part]
        return replace(
            self.kind_facts(), label=words, unit=unit, input=(0.0, 1.0) if self.part == "arrived" else self.usual
        )

    def missing(self, view: View) -> str:
        return "" if _has(view) else "the particle's target, and this emitter has no targets"

    def column(self) -> str:
        return f"target.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if _has(view):
            for part, (_, _, help) in PARTS.items():
                yield cls.entry({"kind": "target", "part": part}, cls.group, help)

    def write(self, at: Reader) -> Values:
        b, target = at.builder, at.view.thing.target
        if self.part == "distance":
            return (target.distance(at),)
        arrived, when = target.arrived(at)
        if self.part == "arrived":
            return (arrived,)
        return (b.op("select", arrived, b.op("sub", at.clip_time(), when), b.const(0)),)


def _has(view: View) -> bool:
    target = view.thing.target
    return target is not None and target.prop is not None
