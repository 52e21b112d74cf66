"""What shows a kind of part at work: plain data that the kind itself offers, for its card and for what can be tried.

Things of a card that are named by uid: `ball` (a sphere), `line` (a path), `near` (a mask), `sheet` (a picture), `air`
(a field of vectors), `count` (an own attribute), `other` (an emitter).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

Data = Mapping[str, Any]


@dataclass(frozen=True)
class Example:
    """A small effect in which a kind does what it is for, by what it has beside the fountain of every card.

    fields: of the part, in place of its template's. emitter: of the emitter that has the part. beside: other parts that
    the emitter has, as "kind of part:tag" (`force:drag`, `place:prop`). needs: those of them without which it does
    nothing; they are added wherever it is tried. props: further props that are seen. fixtures: fields of the card's own
    props, by uid; those are seen, too. variants: settings of the part under which further rows act.
    """

    fields: Data = field(default_factory=dict)
    emitter: Data = field(default_factory=dict)
    beside: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    props: tuple[Data, ...] = ()
    fixtures: Data = field(default_factory=dict)
    variants: tuple[Data, ...] = ()


@dataclass(frozen=True)
class Suggestion:
    """A change that can be tried on an effect with a kind of part.

    words: what it does. fields: of the part; lists of responses are added. emitter: of its emitter. beside: other parts
    that are added. props: props that are added, by the field that names them. drives: a source and its range, by which
    colour goes.
    """

    words: str
    fields: Data = field(default_factory=dict)
    emitter: Data = field(default_factory=dict)
    beside: tuple[str, ...] = ()
    props: Data = field(default_factory=dict)
    drives: tuple[Data, tuple[float, float]] | None = None


TAGS = ("kind", "sprite", "aim", "shape")  # fields that say what kind of part plain data is of


def merged(data: Data, more: Data) -> dict[str, Any]:
    """Return plain data with more of it: dictionaries are merged, unless they are parts of different kinds; responses
    are added, and all else is replaced."""
    result = dict(data)
    for name, value in more.items():
        here = result.get(name)
        if isinstance(value, Mapping) and isinstance(here, Mapping) and _same_kind(here, value):
            result[name] = merged(here, value)
        elif name == "responses" and here:
            result[name] = [*here, *value]
        else:
            result[name] = value
    return result


def _same_kind(data: Data, more: Data) -> bool:
    return all(more.get(tag, data.get(tag)) == data.get(tag) for tag in TAGS)
