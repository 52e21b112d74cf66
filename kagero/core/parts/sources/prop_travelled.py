"""How far a prop has come, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.slots import OfProp
from ...rows.source import Listed, Node, SourceFacts, SourcePart
from ...rows.units import METRES
from ...rows.view import View, find_thing


class PropTravelledSource(SourcePart):
    """Metres that a prop as a whole has gone since the clip began, along its way."""

    label, group, unit, usual = "distance travelled", "props", METRES, (0, 5)
    words = "object moving odometer way path length"
    help = "How many metres a prop has gone along its way since the clip began."
    per_particle = False

    kind: Literal["prop_travelled"]
    prop: Annotated[Uid, Refers("props")]

    def facts(self, view: View) -> SourceFacts:
        prop = find_thing(view.props, self.prop)
        return replace(self.kind_facts(), label="missing prop" if prop is None else f"{prop.name} {self.label}")

    def missing(self, view: View) -> str:
        return "" if find_thing(view.props, self.prop) else f"a prop that is not there: {self.prop!r}"

    def column(self) -> str:
        return f"travelled.{self.prop}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for prop in view.placed:
            yield cls.entry({"kind": "prop_travelled", "prop": prop.uid}, cls.group, cls.help)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        return iter(())  # a prop reads the clip, dials and other props

    def write(self, at: Reader) -> Values:
        return (at.builder.op("prop_travelled", at.clip_time(), attrs=(OfProp(self.prop),)),)
