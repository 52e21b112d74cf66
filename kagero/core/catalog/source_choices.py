"""The one list of sources from which a row can be driven: each with its words, unit and usual range, or why not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..document import Effect
from ..rows.source import SOURCES, Listed, source_of
from ..rows.units import Unit
from .links import Links
from .scope import Scope


@dataclass(frozen=True)
class SourceChoice:
    """One source to choose. source: what to put into the document. whole: it is a vector or colour, for bases only.
    words: everyday words by which it is looked for as well. fixed: its range is known, whatever part of it particles
    have now."""

    key: str
    source: dict[str, Any]
    label: str
    group: str
    unit: Unit
    input: tuple[float, float]
    read: str
    help: str
    refusal: str
    whole: bool = False
    column: str = ""
    words: str = ""
    fixed: bool = False


def choices(effect: Effect, thing: Any, address: str) -> list[SourceChoice]:
    """Return every source there is for the row at an address, in the order of the list; KeyError when no row stands
    there."""
    scope = Scope(thing, effect)
    links = Links(scope)
    placed = links.rows[address]
    offered = []
    for listed in list_sources(scope):
        source = source_of(listed.source)
        facts = source.facts(scope)
        live = facts.changes or source.refreshed
        read = {"emitter": "live", "birth": "once"}.get(placed.spec.stage) or ("live" if live else "once")
        whole = facts.shape != "number"
        reason = _not_a_number(placed.spec.kind, facts.shape) if whole else ""
        span = (0.0, max(effect.clip.seconds(effect.clip.last_frame), 1e-3)) if source.spans_clip else facts.input
        offered.append(
            SourceChoice(
                listed.key,
                listed.source,
                facts.label,
                listed.group,
                facts.unit,
                span,
                read,
                listed.help,
                reason or links.refusal(placed, source, read),
                whole,
                source.column(),
                _words(source),
                source.fixed,
            )
        )
    return offered


_PARTS = {
    "x": "left right sideways",
    "y": "up down above below",
    "z": "near far front back depth",
    "length": "how far how much",
}


def _words(source: Any) -> str:
    """Return the everyday words for a source: those of its kind, and of the part that it reads."""
    return f"{source.words} {_PARTS.get(getattr(source, 'part', ''), '')}".strip()


def _not_a_number(kind: str, shape: str) -> str:
    if kind == shape:
        return ""
    return f"A whole {shape} can only be the base of a {shape} row; choose one of its parts."


def list_sources(scope: Scope) -> list[Listed]:
    """Return every source of an emitter in the order of the list; those with settings of their own as they are when
    chosen anew."""
    return [listed for kind in SOURCES.classes() for listed in kind.listed(scope)]
