"""Older documents are brought up one schema version a step. Each step is pure: it never changes its input or invents uids."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import SchemaProblem
from .base import DOCUMENT_FORMAT, SCHEMA_VERSION

STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}  # from version -> document of the next version


def upgrade(document: dict[str, Any]) -> dict[str, Any]:
    """Return the document in the current schema version; the argument stays as it was."""
    if document.get("format") != DOCUMENT_FORMAT:
        raise SchemaProblem(
            f"This is not an effect: its format is {str(document.get('format'))[:40]!r}.",
            where="format",
            remedy=f'An effect file says "format": "{DOCUMENT_FORMAT}".',
        )
    version = document.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or not 1 <= version <= SCHEMA_VERSION:
        raise SchemaProblem(
            f"Schema version {str(version)[:40]!r} is unknown here; this Kagero reads 1 to {SCHEMA_VERSION}.",
            where="schema_version",
            remedy="Open it with a newer Kagero, or export it in an older version there.",
        )
    for step in range(version, SCHEMA_VERSION):
        document = {**STEPS[step](document), "schema_version": step + 1}
    return document
