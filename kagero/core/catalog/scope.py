"""What the rows of an emitter, or of a thing that is read by the clip alone, can see: the thing itself, the effect
around it, and the names formulas know all of it by."""

from __future__ import annotations

from collections import deque
from functools import cached_property
from typing import Any

from ..document import Dial, Effect, Emitter, owner_of
from ..formula import Formula, Known, check
from ..rows.clip_rows import ByClip
from ..rows.placed import PlacedRow, rows_within, settings_of
from ..rows.source import SOURCES
from ..rows.view import Owner, find_thing

_GROUPS = (
    "",
    "dials",
    "moments",
    "masks",
    "latched",
    "since",
    "props",
    "velocities",
    "draws",
    "own",
    "cues",
    "after",
    "times",
    "clocks",
    "rows",
)  # of names, offered in this order, others last


def _place(group: str) -> int:
    return _GROUPS.index(group) if group in _GROUPS else len(_GROUPS)


class Scope:
    """An emitter, or a thing that is read by the clip alone, within its effect; without one there are no dials and
    props. Formulas are read once and kept."""

    def __init__(self, thing: Emitter | ByClip, effect: Effect | None = None):
        by_clip = isinstance(thing, ByClip)
        self.thing: Any = thing
        self.effect = effect
        self.owner: Owner = owner_of(thing)
        self.dials: list[Dial] = effect.dials if effect is not None else []
        self.moments = effect.moments if effect is not None else []
        every: list[Any] = [] if effect is None else list(effect.props)
        # a prop reads the places of others; what is asked of masks and surfaces is asked by particles
        self.props: list[Any] = [prop for prop in every if prop is not thing and prop.placed] if by_clip else every
        self.masks = [prop for prop in self.props if prop.mask]
        self.placed = [prop for prop in self.props if prop.placed]
        self.solid = [] if by_clip else [prop for prop in self.placed if prop.solid]
        self.pictured = [] if by_clip else [prop for prop in self.placed if prop.pictured]
        self.draws, self.own = thing.draws, thing.own
        self.has_parent = isinstance(thing, Emitter) and thing.births.place.parted
        looks = [thing.look, *thing.also] if isinstance(thing, Emitter) else []
        self.has_strands = any(look.strands for look in looks)
        self._formulas: dict[str, Formula] = {}
        others = effect.emitters if effect is not None and isinstance(thing, Emitter) else []
        # those of other emitters that move all particles: by whose they are, and their number there
        self.from_others = [
            (each, k)
            for each in others
            if each.uid != thing.uid
            for k, shaping in enumerate(each.shaping)
            if shaping.everyone
        ]

    @property
    def shapings(self) -> list[Any]:
        """What moves an emitter's particles after the simulation, in order: its own, then those of others that move
        all."""
        return [*self.thing.shaping, *(each.shaping[k] for each, k in self.from_others)]

    def formula(self, text: str) -> Formula:
        """Return a formula read with the names known here; what is wrong stands in its `problems`."""
        if text not in self._formulas:
            self._formulas[text] = check(text, self.names)
        return self._formulas[text]

    @cached_property
    def names(self) -> dict[str, Known]:
        """Return every name a formula can use here. Two things of one name are refused where it is used."""
        found_names: dict[str, Known] = {}
        every = [known for kind in SOURCES.classes() for known in kind.named(self)]
        for known in sorted(every, key=lambda known: _place(known.name.rpartition(".")[0])):
            there = found_names.get(known.name)
            if there is None:
                found_names[known.name] = known
            else:
                refused = f"Two things are called {known.name} here: {there.label} and {known.label}. Rename one."
                found_names[known.name] = Known(
                    known.name, known.kind, known.unit, None, known.label, known.help, known.symbol, refused=refused
                )
        return found_names

    @cached_property
    def _sheet(self) -> list[PlacedRow]:
        return list(rows_within(self.thing, "" if self.owner[0] == "emitter" else "place."))

    def sheet_rows(self) -> list[PlacedRow]:
        """Return the rows of the sheet in working order, without the settings of responses."""
        return self._sheet

    def row_label(self, placed: PlacedRow) -> str:
        """Return a row's name, with the name of the draw or own attribute that it belongs to."""
        return row_label(self.thing, placed)

    @cached_property
    def rows(self) -> dict[str, PlacedRow]:
        """Return all rows by address, the settings of their responses and sources among them, and theirs in turn."""
        return self._with_settings(self._sheet)

    @cached_property
    def borrowed(self) -> dict[str, PlacedRow]:
        """Return the rows of others' shapings that move this emitter's particles too, by address; their paths are those
        of whose they are."""
        return self._with_settings(
            [
                row
                for each, k in self.from_others
                for row in rows_within(each.shaping[k], f"shaping.{each.shaping[k].uid}.", f"shaping.{k}.")
            ]
        )

    @cached_property
    def every_row(self) -> dict[str, PlacedRow]:
        """Return all rows that its programs are made of."""
        return self.rows | self.borrowed if self.from_others else self.rows

    def _with_settings(self, sheet: list[PlacedRow]) -> dict[str, PlacedRow]:
        """Return rows by address, with the settings of their responses and sources, and theirs in turn."""
        with_settings: dict[str, PlacedRow] = {}
        waiting = deque(sheet)
        while waiting:
            placed = waiting.popleft()
            with_settings[placed.address] = placed
            if placed.depth <= 4 and (placed.row.responses or not isinstance(placed.row.base, (int, float, tuple))):
                waiting.extend(settings_of(placed, lambda source: source.facts(self).unit))
        return with_settings


def row_label(thing: Any, placed: PlacedRow) -> str:
    """Return a row's name, with what it belongs to: a draw, an own attribute, a further look."""
    head, _, rest = placed.address.partition(".")
    if head in ("draws", "own"):
        return f"{find_thing(getattr(thing, head), rest.partition('.')[0]).name}: {placed.spec.label.lower()}"
    if head == "also":
        return f"{find_thing(thing.also, rest.partition('.')[0]).label}: {placed.spec.label.lower()}"
    return placed.spec.label


def all_rows(scope: Scope) -> list[PlacedRow]:
    """Return all rows of an emitter or prop, the settings of its responses and sources among them, and theirs in
    turn."""
    return list(scope.rows.values())


def row_at(scope: Scope, address: str) -> PlacedRow | None:
    """Return the row at an address, or None."""
    return scope.rows.get(address)
