"""Places in an emitter or prop, as paths that hold while lists change."""

from __future__ import annotations

from typing import Any

from .layout_types import Path


def named_path(thing: Any, path: str) -> Path:
    """Return a dotted path with the items of lists named by their uids."""
    steps: list[str | int] = []
    here = thing
    for step in path.split("."):
        if isinstance(here, (list, tuple)):
            here = here[int(step)]
            steps.append(f"#{here.uid}" if hasattr(here, "uid") else int(step))
        else:
            here = getattr(here, step)
            steps.append(step)
    return tuple(steps)


def value_at(thing: Any, path: str) -> Any:
    for step in path.split("."):
        thing = thing[int(step)] if isinstance(thing, (list, tuple)) else getattr(thing, step)
    return thing


def joined(path: Path) -> str:
    return ".".join(str(step) for step in path)
