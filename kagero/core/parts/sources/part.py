"""How much of a prop a particle is, as a source: of particles that are parts of one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart, source_of
from ...rows.units import METRES, PLAIN, si_symbol
from ...rows.view import View

WHAT = {"share": ("part’s share", PLAIN, (0.0, 4.0)), "size": ("part’s size", METRES, (0.0, 0.5))}
HELP = {
    "share": "How much of the prop its part is, its volume or area against the mean of all: 1 is as much as the "
    "others. For its mass.",
    "size": "How long the longest side of its part is.",
}


def parts_of(view: View) -> bool:
    """Return whether an emitter's particles are parts of a prop."""
    return view.thing.births is not None and view.thing.births.place.counted


class PartSource(SourcePart):
    """How much of a prop the particle's part is: its share of the volume or area against the mean of all, or its
    longest side."""

    label, group, unit, usual, shape = "part", "birth", PLAIN, (0.0, 4.0), "number"
    words = "piece volume area mass weight fragment"
    help = HELP["share"]
    changes = False
    after = "place"
    example = Example(beside=("place:parts",))

    kind: Literal["part"]
    what: Annotated[Literal["share", "size"], NAMING] = "share"

    def facts(self, view: View) -> SourceFacts:
        label, unit, usual = WHAT[self.what]
        return replace(self.kind_facts(), label=label, unit=unit, input=usual)

    def missing(self, view: View) -> str:
        return "" if parts_of(view) else "a part; particles of this emitter are no parts of a prop"

    def column(self) -> str:
        return f"part.{self.what}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if parts_of(view):
            for what in WHAT:
                yield cls.entry({"kind": "part", "what": what}, cls.group, HELP[what])

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if parts_of(view):
            for what, (label, unit, _) in WHAT.items():
                source = source_of({"kind": "part", "what": what})
                yield Known(
                    f"part_{what}",
                    "number",
                    dimension_of(unit.symbol),
                    source,
                    label,
                    HELP[what],
                    si_symbol(unit),
                    True,
                    False,
                )

    def write(self, at: Reader) -> Values:
        place = at.view.thing.births.place
        if not place.counted:
            return (at.builder.const(0),)
        return (place.part_facts(at)[0 if self.what == "share" else 1],)
