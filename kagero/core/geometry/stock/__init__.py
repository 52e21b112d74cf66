"""The pictures that ship, drawn by code when they are first asked for. One module a picture: its words, its grid, and
what draws it."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import Literal, get_args

from ...memory import PROCESS
from ..picture import Picture

StockName = Literal["puffs", "petal", "feather", "spark", "glint", "drop", "ripple", "scrap", "disc", "tile"]
NAMES: tuple[StockName, ...] = get_args(StockName)


@dataclass(frozen=True)
class StockPicture:
    """A picture that ships. across, down: its grid; motion: where each place of a cell is going until the next cell, in
    shares of its width and height: red and green, 0.5 for nowhere, 0 and 1 for `reach` of them; None where it has
    none."""

    picture: Picture
    across: int = 1
    down: int = 1
    motion: Picture | None = None
    reach: float = 0.0


_pictures = PROCESS.region("stock", 0.3)


def stock(name: str) -> StockPicture:
    """Return a picture that ships, by one of NAMES; the same each time."""
    return _pictures(name, lambda: import_module(f"{__name__}.{name}").draw())


def label_and_help(name: str) -> tuple[str, str]:
    """Return its label and what it is good for."""
    module = import_module(f"{__name__}.{name}")
    return module.LABEL, module.HELP


def pages(name: str) -> int:
    """Return how many pages it has, without drawing it; more than one have a picture of their motion too."""
    return getattr(import_module(f"{__name__}.{name}"), "PAGES", 1)
