"""The one list of sources from which a row can be driven: each with its words, unit and usual range, or why not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter

from ..effect import Effect, Emitter, Source
from .links import Links, refusal
from .rows import Unit, rows_of
from .scope import Scope
from .sources import PARTS, SOURCES, parts_of, row_label, source_facts

_SOURCE: TypeAdapter[Any] = TypeAdapter(Source)


@dataclass(frozen=True)
class Choice:
    """One source to choose. source: what to put into the document. whole: it is a vector or colour, for bases only."""

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


@dataclass(frozen=True)
class Listed:
    """A source an emitter's particles have, as it stands in the list."""

    key: str
    source: dict[str, Any]
    group: str
    help: str


def choices(effect: Effect, emitter: Emitter, address: str) -> list[Choice]:
    """Return every source there is for the row at an address, in the order of the list; KeyError when no row stands there."""
    scope = Scope(emitter, effect)
    links = Links(scope)
    placed = links.rows[address]
    found = []
    for listed in list_sources(scope):
        source = listed.source
        facts = source_facts(scope, _SOURCE.validate_python(source))
        live = facts.changes or source["kind"] in ("dial", "formula")
        read = {"emitter": "live", "birth": "once"}.get(placed.spec.stage) or ("live" if live else "once")
        parsed = _SOURCE.validate_python(source)
        whole = facts.shape != "number"
        reason = "" if not whole else _not_a_number(placed.spec.kind, facts.shape)
        span = (0.0, max(effect.clip.seconds(effect.clip.last_frame), 1e-3)) if source["kind"] == "clip_time" else facts.input
        found.append(Choice(listed.key, source, facts.label, listed.group, facts.unit, span, read, listed.help,
                            reason or refusal(links, placed, parsed, read), whole))  # fmt: skip
    return found


def _not_a_number(kind: str, shape: str) -> str:
    if kind == shape:
        return ""
    return f"A whole {shape} can only be the base of a {shape} row; choose one of its parts."


_NAMED = ("look.size", "look.opacity", "look.colour", "motion.spin", "births.lifespan", "births.mass")  # sources by names of their own


def list_sources(scope: Scope) -> list[Listed]:
    """Return every source of an emitter in the order of the list; noise and distances as they are when chosen anew."""
    emitter = scope.emitter
    found: list[Listed] = []

    def add(source: dict[str, Any], group: str, help: str) -> None:
        key = ".".join(str(v) for k, v in source.items() if k in ("kind", "part", "draw", "own", "row", "dial", "prop", "mask", "at"))
        found.append(Listed(key, {**source, "uid": "new"} if source["kind"] in ("noise", "distance", "formula") else source, group, help))

    def add_parts(base: dict[str, Any], shape: str, group: str, help: str) -> None:
        for part in PARTS[shape]:
            if part != "along" or base["kind"] in ("position", "velocity"):
                add({**base, "part": part}, group, help)

    for spec in SOURCES.values():
        if spec.kind == "draw":
            for draw in emitter.draws:
                add({"kind": "draw", "draw": draw.uid}, "draws", f"{_DRAWN[draw.kind]} Given once at birth.")
        elif spec.kind == "dial":
            for dial in scope.dials:
                add({"kind": "dial", "dial": dial.uid}, "dials", dial.note or spec.help)
        elif spec.kind == "prop":
            for prop in scope.placed:
                add_parts({"kind": "prop", "prop": prop.uid}, "vector", "props", spec.help)
                add({"kind": "prop", "prop": prop.uid, "part": "whole"}, "props", spec.help)
        elif spec.kind == "mask":
            for mask in scope.masks:
                for part, words in parts_of("mask").items():
                    add({"kind": "mask", "mask": mask.uid, "part": part}, "masks", words)
        elif spec.kind == "surface":
            for prop in scope.solid:
                for part, words in parts_of("surface").items():
                    add({"kind": "surface", "prop": prop.uid, "part": part}, "props", words)
        elif spec.kind == "picture":
            for prop in scope.pictured:
                for at, where in (("near", "at the nearest place"), ("birth", "where it was born, by its birth u and v")):
                    for part in ("luminance", "red", "green", "blue", "alpha", "whole"):
                        add(
                            {"kind": "picture", "prop": prop.uid, "at": at, "part": part}, "pictures", f"The prop's colours {where}, in linear light."
                        )
        elif spec.kind == "parent":
            if scope.has_parent:
                for part, words in parts_of("parent").items():
                    add({"kind": "parent", "part": part}, "parent", words)
                for part in ("red", "green", "blue", "whole"):
                    add({"kind": "parent", "part": part}, "parent", "The parent's colour at this particle's birth.")
        elif spec.kind == "formula":
            add({"kind": "formula", "text": "0"}, "formula", spec.help)
        elif spec.kind == "own":
            for own in emitter.own:
                words = "Remembers: each step goes on from its last value." if own.memory else "Set at birth, and kept."
                add({"kind": "own", "own": own.uid}, "own", words)
                if own.kind != "number":
                    add_parts({"kind": "own", "own": own.uid}, own.kind, "own", words)
        elif spec.kind == "row":
            for placed in rows_of(emitter):
                if placed.muted or placed.address in _NAMED or placed.address.startswith("draws."):
                    continue
                base, words = {"kind": "row", "row": placed.address}, f"What {row_label(emitter, placed).lower()} gives for the same particle."
                if placed.spec.kind == "number":
                    add(base, "rows", words)
                else:
                    add_parts(base, placed.spec.kind, "rows", words)
        elif spec.shape == "number":
            add({"kind": spec.kind}, spec.group, spec.help)
        else:
            add_parts({"kind": spec.kind}, spec.shape, spec.group, spec.help)
            add({"kind": spec.kind, "part": "whole"}, spec.group, spec.help)
    return found


_DRAWN = {
    "uniform": "Evenly between two values.", "spread": "Evenly around a centre.", "normal": "Normally distributed.",
    "choice": "One of a few values.", "sign": "-1 or +1.", "integer": "A whole number.",
}  # fmt: skip


def source_of(value: dict[str, Any]) -> Any:
    """Return a source read from plain data. Raises pydantic's ValidationError."""
    return _SOURCE.validate_python(value)


__all__ = ["Choice", "Listed", "choices", "list_sources", "source_of"]
