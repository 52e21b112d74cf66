"""A formula over space and time as a mask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from ...errors import Finding
from ...formula import Formula, Writer, check
from ...rows.model import FORMULA, Setting
from ..sources.clip_time import ClipTimeSource
from ..sources.dial import DialSource
from ..sources.position import PositionSource
from .base import LevelledMask, Spot


class FormulaMask(LevelledMask):
    """A number over space and time, from 0 to 1 about a level."""

    label, help = "Formula", "A number over space and time, from 0 to 1 about a level."

    shape: Literal["formula"]
    formula: Annotated[
        str, FORMULA, Setting("Formula", "A number over position (metres), clip_time and dials; half in at the level.")
    ] = Field(default="", max_length=4000, description="A number of position and clip_time: see docs/FORMULAS.md.")

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "formula": "1 - length(position)"}

    def over(self, at: Spot) -> int:
        b = at.builder
        (x,) = Writer(
            at.reader.in_space(at.point, at.time), at.reader.space_formula(self.formula or "0"), f"mask {self.uid}"
        ).result()
        return b.op("guard", x, b.const(0))

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        formula = space_formula(effect, self.formula or "0")
        for problem in formula.problems:
            yield Finding(
                "formula",
                f"{where}.formula",
                f"Line {problem.span.line}, column {problem.span.column}: {problem.message}",
                problem.remedy,
            )
        if formula.result is not None and formula.result.count != 1:
            yield Finding(
                "formula",
                f"{where}.formula",
                "A mask is a number, and this gives three.",
                "Use a component, or length(...).",
            )


def space_formula(effect: Any, text: str) -> Formula:
    """Return a formula over space and time: of position (metres), clip_time and the effect's dials."""
    names = {
        known.name: known
        for kind in (PositionSource, ClipTimeSource, DialSource)
        for known in kind.named(effect)
        if not isinstance(known.source, str)
    }
    names["position"] = replace(names["position"], label="position", help="Where the mask is asked.", changes=True)
    return check(text, names)
