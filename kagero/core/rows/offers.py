"""What a plain field of a part offers where it stands: words, bounds, and the values to choose from. Derived from what is beside it."""

from __future__ import annotations

import types
from dataclasses import dataclass, field
from typing import Any, Literal, Union, get_args, get_origin

from .curves import Curve
from .model import FieldFacts
from .units import PLAIN, Unit

Kind = Literal["choice", "tick", "number", "whole", "text", "formula", "reference", "references", "curve"]


@dataclass(frozen=True)
class Choosable:
    """One value that a field can have. why: why it cannot be chosen now; empty where it can."""

    value: Any
    label: str
    help: str = ""
    why: str = ""


@dataclass(frozen=True)
class Offered:
    """A field of a part in the sheet. kind: which control shows it; lowest, highest: of numbers; nothing: words for None, where the field
    may name nothing."""

    name: str
    label: str
    help: str
    kind: Kind
    unit: Unit = PLAIN
    lowest: float | None = None
    highest: float | None = None
    default: Any = None
    options: tuple[Choosable, ...] = field(default=())
    nothing: str = ""


def offered(facts: FieldFacts, options: tuple[Choosable, ...] | None = None) -> Offered | None:
    """Return how a field stands in the sheet; None for one without words. options: what a reference can name."""
    said = facts.setting
    if said is None or not said.shown:
        return None
    inner, optional = _inner(facts.annotation)
    kind: Kind
    if facts.refers is not None:
        kind = "references" if get_origin(inner) is list else "reference"
    elif get_origin(inner) is Literal:
        kind = "choice"
    elif "formula" in facts.marks:
        kind = "formula"
    else:
        kind = {bool: "tick", int: "whole", float: "number", str: "text", Curve: "curve"}[inner]  # type: ignore[assignment]
    if options is None and kind == "choice":
        words = dict(said.choices)
        options = tuple(Choosable(value, words.get(value, str(value))) for value in get_args(inner))
    bounds = {name: next((getattr(each, name) for each in facts.constraints if hasattr(each, name)), None) for name in ("ge", "gt", "le", "lt")}
    lowest = bounds["ge"] if bounds["ge"] is not None else bounds["gt"]
    highest = bounds["le"] if bounds["le"] is not None else bounds["lt"]
    return Offered(
        facts.name, said.label, said.help, kind, said.unit, lowest, highest, facts.default, options or (), said.nothing if optional else ""
    )


def _inner(annotation: Any) -> tuple[Any, bool]:
    """Return a field's type without what stands beside it, and whether it may be None."""
    optional = False
    while True:
        if hasattr(annotation, "__metadata__"):
            annotation = annotation.__origin__
        elif get_origin(annotation) in (Union, types.UnionType):
            kinds = [each for each in get_args(annotation) if each is not type(None)]
            optional = optional or len(kinds) < len(get_args(annotation))
            annotation = kinds[0]
        else:
            return annotation, optional
