"""What of a document decides which operations its programs have; the rest are values, which slots read.

Everything does but what is marked: values, words for people, what geometry is made from, and the numbers of rows. So the key of a new
kind of part is right without anybody keeping a list, and a field that is marked wrongly fails the test that two documents of one key
give one program.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from .model import Model, fields_of
from .responses import ROWS, SourcedBase, differs

SKIPPED = frozenset({"value", "display_only", "content"})
READ = frozenset({"value"})


def structure(thing: Any, skipped: frozenset[str] = SKIPPED) -> Any:
    """Return nested tuples that are equal for things whose programs are the same. skipped: the marks of fields that do not count."""
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
                        "whether" in facts.marks and differs(value, facts.driven.default if facts.driven else 0),
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
    base = structure(row.base, skipped) if isinstance(row.base, SourcedBase) else None
    return (type(row).__name__, base, structure(row.responses, skipped), row.muted)


def _setting(value: Any, skipped: frozenset[str]) -> Any:
    if isinstance(value, ROWS):
        return _row(value, skipped)
    if isinstance(value, tuple) and any(isinstance(each, ROWS) for each in value):
        return tuple(_setting(each, skipped) for each in value)
    return None


def structures(things: Iterable[Any], skipped: frozenset[str] = SKIPPED) -> tuple[Any, ...]:
    """Return the structures of several things."""
    return tuple(structure(thing, skipped) for thing in things)
