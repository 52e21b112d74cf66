"""What is used where."""

from __future__ import annotations

from typing import Any

from ...document import Effect, Emitter
from ...formula import identifier
from ...rows.model import references, walk
from ...rows.responses import sources_of
from ..naming import names_of, prop_names
from ..scope import Scope


def used_within(emitter: Emitter) -> dict[str, tuple[str, ...]]:
    """Return, of an emitter's draws and own attributes by uid, the rows that read each."""
    held: list[Any] = [*emitter.draws, *emitter.own]
    uses: dict[str, list[str]] = {thing.uid: [] for thing in held}
    names = {
        f"{group}.{identifier(thing.name)}": thing.uid
        for group in ("draws", "own")
        for thing in getattr(emitter, group)
    }
    scope = Scope(emitter)
    for placed in scope.rows.values():
        for source, *_ in sources_of(placed.row):
            words = scope.row_label(scope.rows[placed.host] if placed.host else placed)
            uids = [uid for _, facts, value in walk(source) for uid in references(facts, value)]
            uids += [
                value.split(".")[1]
                for _, facts, value in walk(source)
                if "address" in facts.marks and value.startswith(("draws.", "own."))
            ]
            uids += [names[name] for name in names_of(source) if name in names]
            for uid in uids:
                if uid in uses:
                    uses[uid].append(words)
    return {uid: tuple(words) for uid, words in uses.items()}


def users(effect: Effect) -> dict[str, tuple[str, ...]]:
    """Return, by the uid of a dial or prop, the names of the emitters and props that use it, each once."""
    things = effect.holders()
    names: dict[str, str] = {f"dials.{identifier(dial.name)}": dial.uid for dial in effect.dials}
    names |= {f"moments.{identifier(moment.name)}": moment.uid for moment in effect.moments}
    names |= {name: prop.uid for prop in effect.props for name in prop_names(prop)}
    held: list[Any] = [*effect.dials, *effect.moments, *effect.props]
    uses: dict[str, dict[str, None]] = {each.uid: {} for each in held}
    for thing in things:
        named = [
            (facts, value)
            for _, facts, value in walk(thing)
            if facts.refers and facts.refers.group in ("dials", "moments", "props")
        ]
        uids = {uid for facts, value in named for uid in references(facts, value)}
        uids |= {names[name] for name in names_of(thing) if name in names}
        for uid in uids - {thing.uid}:
            if uid in uses:
                uses[uid][thing.name] = None
    return {uid: tuple(words) for uid, words in uses.items()}
