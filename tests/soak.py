"""What takes long: `make soak` (KAGERO_SOAK=1) runs all of it, `make test` a fixed share, the same one each time."""

from __future__ import annotations

import os
from collections.abc import Hashable, Iterable
from itertools import islice
from typing import TypeVar

Item = TypeVar("Item")

SOAK = bool(os.environ.get("KAGERO_SOAK"))


def share(items: Iterable[Item], every: int, first: int = 0) -> list[Item]:
    """Return every so manieth of some items; in a soak all."""
    return list(items) if SOAK else list(islice(items, first, None, every))


def examples(count: int) -> int:
    """Return of how many generated examples `make test` tries a third, the same ones each time; in a soak all."""
    return count if SOAK else max(8, count // 3)


class Once:
    """Says of things that are alike which is the first; in a soak each is."""

    def __init__(self) -> None:
        self._known: set[Hashable] = set()

    def __call__(self, *alike: Hashable) -> bool:
        fresh = SOAK or alike not in self._known
        self._known.add(alike)
        return fresh
