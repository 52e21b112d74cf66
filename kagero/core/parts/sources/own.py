"""One of the emitter's own attributes as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...rows.attributes import AnyPart, facts_of_part, part_of, parts_listed
from ...rows.model import Refers, Uid, Vector
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, Node, SourceFacts, SourcePart
from ...rows.units import OWN_UNITS, Unit, si_symbol
from ...rows.view import View, find_thing


class OwnSource(SourcePart):
    """One of the emitter's own attributes, as it stands at the step's start."""

    label, group = "own attribute", "own"
    words = "counter memory"
    help = "What this emitter gives its particles besides."

    name_groups = ("own",)

    kind: Literal["own"]
    own: Annotated[Uid, Refers("own")]
    part: Annotated[AnyPart, NAMING] = "whole"
    axis: Vector = (0.0, 1.0, 0.0)

    def facts(self, view: View) -> SourceFacts:
        own, facts = find_thing(view.own, self.own), self.kind_facts()
        if own is None:
            return replace(facts, label="missing attribute")
        return facts_of_part(
            replace(facts, label=own.name, unit=_unit(own), changes=own.memory, shape=own.kind), self.part
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.own, self.own) else f"an attribute that is not there: {self.own!r}"

    def column(self) -> str:
        return f"own.{self.own}" + ("" if self.part == "whole" else f".{self.part}")

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for own in view.own:
            words = "Remembers: each step goes on from its last value." if own.memory else "Set at birth, and kept."
            yield cls.entry({"kind": "own", "own": own.uid}, "own", words)
            if own.kind != "number":
                yield from parts_listed(cls, {"kind": "own", "own": own.uid}, own.kind, "own", words)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for own in view.own:
            unit = _unit(own)
            yield Known(
                f"own.{identifier(own.name)}",
                own.kind,
                dimension_of(unit.symbol),
                cls(kind="own", own=own.uid),
                own.name,
                cls.help,
                si_symbol(unit),
                True,
                own.memory,
            )

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        own = find_thing(view.own, self.own)
        if own is not None and (stage == "birth" or not own.memory):
            yield "birth", f"own.{self.own}.start"

    def write(self, at: Reader) -> Values:
        return part_of(at, at.own(self.own), self.part, self.axis)


def _unit(own: Any) -> Unit:
    return OWN_UNITS[getattr(own, "unit", "")]
