"""What ranges are fitted to: the meshes, paths, words and pictures that what an emitter's rows read is made from."""

from __future__ import annotations

import hashlib
from typing import Any

from ..document import Effect
from ..rows.model import fields_of, references, walk
from ..rows.view import find_thing
from .scope import Scope

GROUPS = ("props", "emitters")
MADE_FROM = frozenset({"shaped", "content"})


def fitted_to(effect: Effect, thing: Any) -> str:
    """Return a text that changes when any prop changes its content on which what a thing's particles have may depend: a
    file, words, points, sizes, strokes; not where it stands. Props are found through all that names them, formulas and
    parents included. Empty where there are none."""
    contents: dict[str, str] = {}
    seen, waiting = {thing.uid}, [thing]
    while waiting:
        for uid in _named(waiting.pop(), effect):
            other = None if uid in seen else find_thing([*effect.props, *effect.emitters], uid)
            if other is None:
                continue
            seen.add(uid)
            waiting.append(other)
            if any(other is prop for prop in effect.props) and (content := _content(other)):
                contents[uid] = content
    if not contents:
        return ""
    return hashlib.blake2b(repr(sorted(contents.items())).encode(), digest_size=8).hexdigest()


def _named(thing: Any, effect: Effect) -> set[str]:
    """Return the uids of the props and emitters that a thing names."""
    named: set[str] = set()
    texts = []
    for _, facts, value in walk(thing):
        if facts.refers is not None and facts.refers.group in GROUPS:
            named.update(references(facts, value))
        elif "formula" in facts.marks and isinstance(value, str) and value:
            texts.append(value)
    if texts and hasattr(thing, "births"):
        scope = Scope(thing, effect)
        for text in texts:
            sources = [read.known.source for read in scope.formula(text).reads]
            named.update(
                uid
                for source in sources
                if source is not None and not isinstance(source, str)
                for uid in _named(source, effect)
            )
    return named


def _content(prop: Any) -> str:
    """Return what a prop is made from, as text."""
    fields = [facts.name for facts in fields_of(type(prop)) if not MADE_FROM.isdisjoint(facts.marks)]
    return "".join(f"{name} {getattr(prop, name)!r};" for name in fields)
