"""The structure of a document: everything that decides which operations its programs have. The rest are values, which
slots read.

Every field is structural unless marked: values, words for people, contents of geometry, and the numbers of rows are
not. So the key of a new kind of part is right without any list, and a wrongly marked field fails the test that
documents with one key give one program.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from .model import Model, fields_of
from .responses import ROWS, SourcedBase, differs_from_default

SKIPPED = frozenset({"value", "display_only", "content"})
SKIPPED_VALUES = frozenset({"value"})


def structure(thing: Any, skipped: frozenset[str] = SKIPPED) -> Any:
    """Return nested tuples that are equal for things with equal programs. skipped: marks of fields that do not
    count."""
    if isinstance(thing, Model):
        shape: list[Any] = []
        for facts in fields_of(type(thing)):
            if facts.marks and not facts.marks.isdisjoint(skipped):
                continue
            value = getattr(thing, facts.name)
            if "optional" in facts.marks:
                shape.append(value is None)
            elif isinstance(value, ROWS):
                shape.append(
                    (
                        _row(value, skipped),
                        "whether" in facts.marks
                        and differs_from_default(value, facts.driven.default if facts.driven else 0),
                    )
                )
            elif facts.driven is not None or "settings" in facts.marks:
                shape.append(_setting(value, skipped))
            else:
                shape.append(structure(value, skipped))
        return (type(thing).__name__, *shape)
    if isinstance(thing, (list, tuple)):
        return tuple(structure(each, skipped) for each in thing)
    return thing


def _row(row: Any, skipped: frozenset[str]) -> Any:
    """Return the structure of a row: which responses and sources it has, without their numbers."""
    base = structure(row.base, skipped) if isinstance(row.base, SourcedBase) else None
    return (type(row).__name__, base, structure(row.responses, skipped), row.muted)


def _setting(value: Any, skipped: frozenset[str]) -> Any:
    """Return the structure of a field that may be a row or a tuple of rows: nested tuples; None for a plain value."""
    if isinstance(value, ROWS):
        return _row(value, skipped)
    if isinstance(value, tuple) and any(isinstance(each, ROWS) for each in value):
        return tuple(_setting(each, skipped) for each in value)
    return None


def structures(things: Iterable[Any], skipped: frozenset[str] = SKIPPED) -> tuple[Any, ...]:
    """Return the structures of several things."""
    return tuple(structure(thing, skipped) for thing in things)
