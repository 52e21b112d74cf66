"""What a formula gives, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from ...formula import Values, dimension_text
from ...rows.model import DISPLAY_ONLY, FORMULA, Uid
from ...rows.reader import Reader
from ...rows.source import Listed, Node, SourceFacts, SourcePart
from ...rows.units import Unit
from ...rows.view import View


class FormulaSource(SourcePart):
    """What a formula gives. Its uid seeds its noise."""

    is_formula = True
    label, group = "formula", "formula"
    words = "expression maths code"
    help = "Anything else: arithmetic, conditions and functions over all that is listed here."
    refreshed = True

    kind: Literal["formula"]
    uid: Uid
    text: Annotated[str, FORMULA] = Field(
        min_length=1, max_length=4000, description="The formula that runs: see docs/FORMULAS.md."
    )
    draft: Annotated[str, FORMULA, DISPLAY_ONLY] = Field(
        default="", max_length=4000, description="What is being written while it cannot run yet; it plays no part."
    )

    def facts(self, view: View) -> SourceFacts:
        formula, facts = view.formula(self.text), self.kind_facts()
        if formula.result is None:
            return facts
        kind = "number" if formula.result.kind == "truth" else formula.result.kind
        unit = Unit(dimension_text(formula.result.unit), 1, 3)  # as the formula computes it: in SI units
        return replace(facts, unit=unit, per_particle=formula.per_particle, changes=formula.changes, shape=kind)

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        yield cls.entry({"kind": "formula", "text": "0"}, "formula", cls.help)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        """What it remembers of the step before closes no circle; a birth has no step before."""
        rows = {placed.address: placed for placed in view.sheet_rows()}
        for reading in view.formula(self.text).reads:
            if isinstance(reading.known.source, str) or (reading.before and stage == "live"):
                continue
            for node in reading.known.source.reads(view, stage):
                if not (reading.before and node[1] in rows and rows[node[1]].spec.stage == "live"):
                    yield node

    def write(self, at: Reader) -> Values:
        return at.formula(self.text, self.uid)
