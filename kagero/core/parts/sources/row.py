"""Another row of the same emitter as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Known, Values, dimension_of, identifier
from ...rows.attributes import AnyPart, facts_of_part, part_of, parts_listed
from ...rows.model import ADDRESS, Vector
from ...rows.reader import Reader
from ...rows.source import NAMING, SOURCES, Listed, Node, SourceFacts, SourcePart
from ...rows.units import si_symbol
from ...rows.view import View

Address = Annotated[
    str, Field(min_length=1, max_length=160, description="A row of the same emitter, such as look.size.")
]


class RowSource(SourcePart):
    """The value that another row of the same emitter has for the same particle, at this moment."""

    label, group = "row", "rows"
    words = "setting value"
    help = "What another row gives for the same particle, at this moment."

    name_groups = ("rows",)

    kind: Literal["row"]
    row: Annotated[Address, ADDRESS]
    part: Annotated[AnyPart, NAMING] = "whole"
    axis: Vector = (0.0, 1.0, 0.0)

    def facts(self, view: View) -> SourceFacts:
        placed, facts = self._placed(view), self.kind_facts()
        if placed is None:
            return replace(facts, label="missing row")
        spec = placed.spec
        facts = replace(
            facts,
            label=view.row_label(placed).lower(),
            unit=spec.unit,
            per_particle=spec.stage != "emitter",
            changes=spec.stage != "birth",
            shape=spec.kind,
            input=(0, max(spec.drag / 2, 1e-3)),
        )
        return facts_of_part(facts, self.part)

    def missing(self, view: View) -> str:
        return "" if self._placed(view) else f"a row that is not there: {self.row!r}"

    def _placed(self, view: View) -> Any:
        return next((placed for placed in view.sheet_rows() if placed.address == self.row), None)

    def column(self) -> str:
        return f"row.{self.row}" + ("" if self.part == "whole" else f".{self.part}")

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        named = {kind.row_read for kind in SOURCES.kinds.values()}
        for placed in view.sheet_rows():
            if placed.muted or placed.address in named or placed.address.startswith("draws."):
                continue  # draws, and what has a name of its own as a source
            base = {"kind": "row", "row": placed.address}
            words = f"What {view.row_label(placed).lower()} gives for the same particle."
            if placed.spec.kind == "number":
                yield cls.entry(base, "rows", words)
            else:
                yield from parts_listed(cls, base, placed.spec.kind, "rows", words)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        taken: set[str] = set()
        for placed in view.sheet_rows():
            if placed.muted or placed.address.startswith(("draws.", "own.")):
                continue
            spec = placed.spec
            name = f"rows.{identifier(view.row_label(placed))}"
            if name in taken:  # a second force of the same kind
                name = f"{name}_{identifier(placed.address.split('.')[1])}"
            taken.add(name)
            yield Known(
                name,
                spec.kind,
                dimension_of(spec.unit.symbol),
                cls(kind="row", row=placed.address),
                spec.label,
                spec.help,
                si_symbol(spec.unit),
                spec.stage != "emitter",
                spec.stage != "birth",
            )

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        yield stage, self.row

    def write(self, at: Reader) -> Values:
        return part_of(at, at.row(self.row), self.part, self.axis)
