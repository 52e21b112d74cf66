"""The nearest place of a prop as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.slots import OfProp
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.units import METRES, PLAIN
from ...rows.view import View, find_thing

PARTS = {
    "distance": ("distance", METRES, "Metres to the nearest place of the prop; negative inside a closed mesh."),
    "u": ("nearest u", PLAIN, "The u of the nearest place of the prop."),
    "v": ("nearest v", PLAIN, "The v of the nearest place of the prop."),
}


class SurfaceSource(SourcePart):
    """The nearest place of a prop: how far it is (negative inside a closed mesh), and its (u, v)."""

    label, group, unit = "nearest place", "props", METRES
    words = "near mesh closest"
    help = "The nearest place of a prop."
    after = "place"
    example = Example(beside=("place:prop",))

    kind: Literal["surface"]
    prop: Annotated[Uid, Refers("props", "solid")]
    part: Annotated[Literal["distance", "u", "v"], NAMING] = "distance"

    def facts(self, view: View) -> SourceFacts:
        prop = find_thing(view.props, self.prop)
        words, unit, _ = PARTS[self.part]
        return replace(
            self.kind_facts(), label=f"{f'missing {self.label}' if prop is None else prop.name} {words}", unit=unit
        )

    def missing(self, view: View) -> str:
        return (
            "" if find_thing(view.solid, self.prop) else f"a prop that is not there, or has no surface: {self.prop!r}"
        )

    def column(self) -> str:
        return f"surface.{self.prop}.{self.part}"

    def costly(self) -> str:
        return f"near {self.prop}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for prop in view.solid:
            for part, (_, _, help) in PARTS.items():
                yield cls.entry({"kind": "surface", "prop": prop.uid, "part": part}, "props", help)

    def write(self, at: Reader) -> Values:
        found_there = at.builder.multi("prop_sample", *at.state("position"), at.clip_time(), attrs=(OfProp(self.prop),))
        return (found_there[tuple(PARTS).index(self.part)],)
