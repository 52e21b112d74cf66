"""Deeds: what a cue does to the particle that it happens to. One module a deed; they are applied in the order here."""

from __future__ import annotations

import inspect
from importlib import import_module

from .base import Deed, Happening


def _of(module: str) -> type[Deed]:
    """Return the deed that a module of this room defines."""
    loaded = import_module(f"{__name__}.{module}")
    deeds = [kind for _, kind in inspect.getmembers(loaded, inspect.isclass) if kind.__module__ == loaded.__name__]
    return next(kind for kind in deeds if issubclass(kind, Deed))


DEEDS = tuple(_of(name) for name in ("latch", "own", "throw", "hold", "size", "tint", "bear", "end"))

__all__ = ["DEEDS", "Deed", "Happening"]
