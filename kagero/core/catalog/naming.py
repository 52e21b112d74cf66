"""Formulas in plain data, and the names in them: found, and changed where things are renamed or brought elsewhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..formula import names_in


def formulas_in(data: Any) -> Iterator[dict[str, Any]]:
    """Yield every formula source, and every mask by a formula, in plain data."""
    if isinstance(data, dict):
        if (data.get("kind") == "formula" and isinstance(data.get("text"), str)) or data.get("shape") == "formula":
            yield data
        for value in data.values():
            yield from formulas_in(value)
    elif isinstance(data, list):
        for value in data:
            yield from formulas_in(value)


def names_of(data: Any) -> set[str]:
    """Return the grouped names (draws.flicker) that formulas in plain data read."""
    return {name for formula in formulas_in(data) for name, _, _ in names_in(formula.get("text") or formula.get("formula") or "")}


def rename_names(data: Any, names: Mapping[str, str]) -> bool:
    """Change names in every formula of plain data, all at once; return whether any was there."""
    changed = False
    for formula in formulas_in(data):
        for part in ("text", "draft", "formula"):
            text = formula.get(part) or ""
            for name, start, end in reversed(list(names_in(text))):
                if names.get(name, name) != name:
                    text = text[:start] + names[name] + text[end:]
                    changed = True
            if part in formula:
                formula[part] = text
    return changed
