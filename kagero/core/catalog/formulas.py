"""Formulas at their row: what completion offers there, and what is worth a remark."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..formula import ANY, CONSTANTS, FUNCTIONS, PLAIN, Formula, Known, Reading, Span, dimension_of, dimension_text
from ..rows.placed import PlacedRow
from .links import Links


@dataclass(frozen=True)
class Offer:
    """One name that completion offers: detail stands beside it, refused says why it cannot be used here."""

    name: str
    kind: str
    detail: str
    help: str
    refused: str
    key: str


def offers(links: Links, placed: PlacedRow, read: str) -> list[Offer]:
    """Return every name a formula at a row can use, in groups as the source list has them."""
    found = []
    for known in links.scope.names.values():
        refused = known.refused or links.refused_reading(placed, Reading(known, _NOWHERE, False), read)
        found.append(Offer(known.name, known.kind, _detail(known), known.help, refused, _key(known.source)))
    return found


def function_list() -> list[dict[str, Any]]:
    """Return every function and constant with its words, for completion and help."""
    functions = [
        {
            "name": f.name,
            "call": f"{f.name}({', '.join(f.parameters[: max(f.fewest, min(3, len(f.parameters)))])})",
            "help": f.help,
            "example": f.example,
            "glsl": f.glsl,
        }
        for f in FUNCTIONS.values()
    ]
    return [
        *functions,
        *(
            {"name": name, "call": name, "help": help, "example": "", "glsl": False}
            for name, (_, help) in CONSTANTS.items()
        ),
    ]


def unit_remark(placed: PlacedRow, formula: Formula, multiplies: bool) -> str:
    """Return words when a formula's unit is known and is not its row's; else an empty string."""
    result = formula.result
    wanted = PLAIN if multiplies else dimension_of(placed.spec.unit.symbol)
    if result is None or result.unit in (None, ANY, PLAIN) or wanted is None or result.unit == wanted:
        return ""
    row = f"a factor of {placed.spec.label}" if multiplies else placed.spec.label
    return f"This gives {dimension_text(result.unit)}; {row} takes {dimension_text(wanted) or 'a plain number'}."


def _detail(known: Known) -> str:
    return " ".join(part for part in ({"number": "", "truth": ""}.get(known.kind, known.kind), known.symbol) if part)


def _key(source: Any) -> str:
    return "" if source is None or isinstance(source, str) else source.key_of(source.model_dump())


_NOWHERE = Span(1, 1, 1, 1)
