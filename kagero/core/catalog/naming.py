"""Names in formulas: found, and changed where things are renamed or brought elsewhere."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..formula import identifier, names_in
from ..parts.sources.cue import CueSource
from ..rows.model import FieldFacts, rewritten, walk


def names_of(thing: Any) -> set[str]:
    """Return the grouped names (draws.flicker) that the formulas of a part, or of several, read."""
    return {
        name
        for _, facts, value in walk(thing)
        if "formula" in facts.marks and "display_only" not in facts.marks
        for name, _, _ in names_in(value or "")
    }


def renamed_names(thing: Any, names: Mapping[str, str]) -> Any:
    """Return a part, or several, with names changed in every formula, all at once; the same object where none is
    there."""

    def change(facts: FieldFacts, value: Any) -> Any:
        if "formula" not in facts.marks or not value:
            return value
        text = value
        for name, start, end in reversed(list(names_in(text))):
            if names.get(name, name) != name:
                text = text[:start] + names[name] + text[end:]
        return text

    return rewritten(thing, change) if any(a != b for a, b in names.items()) else thing


def cue_names(cue: Any) -> tuple[str, ...]:
    """Return the names by which formulas know a cue."""
    return tuple(f"{group}.{identifier(cue.name)}" for group in CueSource.name_groups)


def prop_names(prop: Any) -> tuple[str, ...]:
    """Return the names by which formulas know a prop."""
    return tuple(
        f"{group}.{identifier(prop.name)}"
        for group in (("masks", "latched", "since") if prop.mask else ("props", "velocities"))
    )
