"""What the sheet offers for a plain field of a part: label, bounds, and values to choose from; derived from the field's
facts."""

from __future__ import annotations

import types
from dataclasses import dataclass, field, replace
from typing import Any, Literal, Union, get_args, get_origin

from .curves import Curve
from .model import FieldFacts, FileKind
from .units import PLAIN, Unit

Kind = Literal[
    "choice",
    "tick",
    "number",
    "whole",
    "text",
    "lines",
    "formula",
    "reference",
    "references",
    "curve",
    "colour",
    "vectors",
    "pairs",
    "file",
    "files",
    "within",
]


@dataclass(frozen=True)
class Choosable:
    """A value that a field can have. why: why it cannot be chosen now; empty where it can."""

    value: Any
    label: str
    help: str = ""
    why: str = ""


@dataclass(frozen=True)
class Offered:
    """A field of a part in the sheet.

    kind: which control shows it (within: a part inside the part, with fields of its own). lowest, highest: bounds of
    numbers. nothing: words for None, where the field may be empty. accept, holds: for files, the endings of their names
    and their required content. pictured: values are pictures of the shelf. side: the field for the other side, of a
    pair. on_request: it is shown once it is set, or somebody asks for it.
    """

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
    accept: tuple[str, ...] = ()
    holds: str = ""
    pictured: bool = False
    side: str = ""
    on_request: bool = False


def offered(facts: FieldFacts, options: tuple[Choosable, ...] | None = None) -> Offered | None:
    """Return what the sheet offers for a field; None for one without a label. options: what a reference can name."""
    if "offered" not in facts.cache:
        facts.cache["offered"] = _offered(facts)
    offer: Offered | None = facts.cache["offered"]
    return offer if offer is None or options is None else replace(offer, options=options)


def _offered(facts: FieldFacts) -> Offered | None:
    setting = facts.setting
    if setting is None or not setting.shown:
        return None
    inner, optional = _inner(facts.annotation)
    file = next((each for each in facts.constraints if isinstance(each, FileKind)), None)
    kind: Kind
    if facts.refers is not None:
        kind = "references" if get_origin(inner) is list else "reference"
    elif get_origin(inner) is Literal:
        kind = "choice"
    elif "formula" in facts.marks:
        kind = "formula"
    elif get_origin(inner) is list:
        kind = "files" if file else "vectors" if len(get_args(_inner(get_args(inner)[0])[0])) == 3 else "pairs"
    elif get_origin(inner) is tuple:
        kind = "colour"
    elif file:
        kind = "file"
    else:
        kinds: dict[Any, Kind] = {bool: "tick", int: "whole", float: "number", str: "text", Curve: "curve"}
        longest = next((each.max_length for each in facts.constraints if getattr(each, "max_length", None)), 0)
        kind = "lines" if inner is str and longest >= 200 else kinds.get(inner, "within")
    options: tuple[Choosable, ...] = ()
    if kind == "choice":
        words = dict(setting.choices)
        options = tuple(Choosable(value, words.get(value, str(value))) for value in get_args(inner))
    bounds = {
        name: next((getattr(each, name) for each in facts.constraints if hasattr(each, name)), None)
        for name in ("ge", "gt", "le", "lt")
    }
    lowest = bounds["ge"] if bounds["ge"] is not None else bounds["gt"]
    highest = bounds["le"] if bounds["le"] is not None else bounds["lt"]
    return Offered(
        facts.name,
        setting.label,
        setting.help,
        kind,
        setting.unit,
        lowest,
        highest,
        facts.default,
        options,
        setting.nothing if optional else "",
        accept=file.accept if file else (),
        holds=file.kind if file else "",
        pictured=setting.pictured,
        side=setting.side,
    )


def _inner(annotation: Any) -> tuple[Any, bool]:
    """Return a field's type without its annotations, and whether it may be None."""
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
