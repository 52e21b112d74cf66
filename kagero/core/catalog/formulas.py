"""Formulas at their row: may it read what it reads, and does it give what the row needs; what completion offers there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from ..formula import ANY, CONSTANTS, FUNCTIONS, PLAIN, Formula, Known, Problem, Reading, Span, dimension_of, dimension_text
from .rows import PlacedRow

if TYPE_CHECKING:
    from .links import Links

_NEEDS = {"number": "a number", "vector": "a vector", "colour": "a colour"}
_WRITE = {"number": "Use a component, or length(...).", "vector": "Write vec3(x, y, z).", "colour": "Write vec3(red, green, blue)."}


def check_formula(links: Links, placed: PlacedRow, text: str, read: str, needs: str = "") -> Formula:
    """Return a formula as the row sees it, with everything wrong about it there in its `problems`.

    needs: number, vector or colour; without, whatever it gives will do.
    """
    formula = links.scope.formula(text)
    if formula.result is None:
        return formula
    problems = [Problem(reading.span, reason, "Use another value, or drive another row.") for reading in formula.reads
                if (reason := _refused(links, placed, reading, read))]  # fmt: skip
    if placed.spec.stage != "live":
        words = f"{placed.spec.label} has no step before: it is settled {_WHEN[placed.spec.stage]}."
        problems.extend(Problem(value.span, words, "Remove previous.") for value in formula.previous)
    kind = "number" if formula.result.kind == "truth" else formula.result.kind
    if needs and (kind == "number") != (needs == "number"):
        problems.append(Problem(formula.result.span, f"{placed.spec.label} needs {_NEEDS[needs]}, and this gives {_NEEDS[kind]}.", _WRITE[needs]))
    return replace(formula, result=None if problems else formula.result, problems=tuple(problems))


_WHEN = {"emitter": "by the clip alone", "birth": "at birth"}


def _refused(links: Links, placed: PlacedRow, reading: Reading, read: str) -> str:
    known = reading.known
    if known.source == "dt" and (placed.spec.stage != "live" or read == "once"):
        return f"{placed.spec.label} is not computed step by step; there is no dt."
    if isinstance(known.source, str):
        return ""
    if reading.before and placed.spec.stage == "live":
        return ""
    return links.refusal(placed, known.source, read)


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
        refused = known.refused or _refused(links, placed, Reading(known, _NOWHERE, False), read)
        found.append(Offer(known.name, known.kind, _detail(known), known.help, refused, _key(known.source)))
    return found


def function_list() -> list[dict[str, Any]]:
    """Return every function and constant with its words, for completion and help."""
    functions = [{"name": f.name, "call": f"{f.name}({', '.join(f.parameters[: max(f.fewest, min(3, len(f.parameters)))])})", "help": f.help,
                  "example": f.example, "glsl": f.glsl} for f in FUNCTIONS.values()]  # fmt: skip
    return [*functions, *({"name": name, "call": name, "help": help, "example": "", "glsl": False} for name, (_, help) in CONSTANTS.items())]


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
    if source is None or isinstance(source, str):
        return ""
    naming = ("kind", "part", "draw", "own", "row", "dial", "prop", "mask", "at")
    return ".".join(str(value) for key, value in source.model_dump().items() if key in naming)


_NOWHERE = Span(1, 1, 1, 1)
