"""Where a prop stands, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...rows.attributes import VectorPart, facts_of_part, part_of, parts_listed
from ...rows.model import Refers, Uid, Vector
from ...rows.reader import Reader
from ...rows.slots import OfProp
from ...rows.source import NAMING, Listed, Node, SourceFacts, SourcePart
from ...rows.units import METRES
from ...rows.view import View, found


class PropSource(SourcePart):
    """Where a prop of the effect stands: a component, its distance from the origin, or the whole."""

    label, group, unit, usual = "prop", "props", METRES, (-1, 1)
    help = "Where a prop stands at this moment."
    per_particle, shape = False, "vector"

    name_groups = ("props",)

    kind: Literal["prop"]
    prop: Annotated[Uid, Refers("props")]
    part: Annotated[VectorPart, NAMING] = "length"
    axis: Vector = (0.0, 1.0, 0.0)

    def facts(self, view: View) -> SourceFacts:
        prop = found(view.props, self.prop)
        return facts_of_part(replace(self.kind_facts(), label="missing prop" if prop is None else prop.name), self.part)

    def missing(self, view: View) -> str:
        return "" if found(view.props, self.prop) else f"a prop that is not there: {self.prop!r}"

    def column(self) -> str:
        return f"props.{self.prop}" + ("" if self.part == "whole" else f".{self.part}")

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for prop in view.placed:
            yield from parts_listed(cls, {"kind": "prop", "prop": prop.uid}, "vector", "props", cls.help)
            yield cls.entry({"kind": "prop", "prop": prop.uid, "part": "whole"}, "props", cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for prop in view.placed:
            source = cls(kind="prop", prop=prop.uid, part="whole")
            yield Known(f"props.{identifier(prop.name)}", "vector", dimension_of("m"), source, prop.name, cls.help, "m", False, True)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        return iter(())  # a prop reads the clip, dials and other props

    def write(self, at: Reader) -> Values:
        m = at.builder.multi("prop_matrix", at.clip_time(), attrs=(OfProp(self.prop),))
        return part_of(at, (m[3], m[7], m[11]), self.part, self.axis)
