"""What a part may know of the effect that contains it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, Literal, Protocol

from ..formula import Formula

Holder = Literal["emitter", "prop", "finish", "frame"]
Owner = tuple[Holder, str]  # what holds rows, and its uid


class View(Protocol):
    """An emitter, or a thing whose rows depend on the clip alone, within its effect: what its rows can see.

    thing: itself. dials, moments, props: the effect's; for a prop, those that it can read. masks, placed, solid,
    pictured: props that are masks, have a position, a surface, a picture. draws, own: an emitter's. has_parent: its
    particles are born from others. has_strands: they are drawn along lines.
    """

    @property
    def thing(self) -> Any: ...
    @property
    def dials(self) -> Sequence[Any]: ...
    @property
    def moments(self) -> Sequence[Any]: ...
    @property
    def props(self) -> Sequence[Any]: ...
    @property
    def masks(self) -> Sequence[Any]: ...
    @property
    def placed(self) -> Sequence[Any]: ...
    @property
    def solid(self) -> Sequence[Any]: ...
    @property
    def pictured(self) -> Sequence[Any]: ...
    @property
    def draws(self) -> Sequence[Any]: ...
    @property
    def own(self) -> Sequence[Any]: ...
    @property
    def has_parent(self) -> bool: ...

    @property
    def has_strands(self) -> bool: ...

    def formula(self, text: str) -> Formula:
        """Return a parsed formula, with the names known here."""

    def sheet_rows(self) -> Iterable[Any]:
        """Return the rows of the sheet, without settings of responses."""

    def row_label(self, placed: Any) -> str:
        """Return a row's shown name."""


def find_thing(things: Iterable[Any], uid: str) -> Any:
    """Return the thing with a uid, or None."""
    return next((thing for thing in things if thing.uid == uid), None)
