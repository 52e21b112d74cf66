"""Cards: what each thing of the sheet is, in a sentence, its usual range, and what shows it. Derived from the parts; no
kind is named here."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any, Literal

from ..catalog.describe import OPERATIONS, emitter_rows
from ..document import ONCE, Clip, Effect, read_effect
from ..errors import RequestError
from ..formula.functions import FUNCTIONS
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.draws import DRAWS
from ..parts.finish import FINISH
from ..parts.looks import LOOKS
from ..parts.masks import MASKS
from ..parts.props import PROPS
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..parts.shapings import SHAPINGS
from ..parts.sources import SOURCES
from ..rows.model import summary
from ..rows.union import OpenUnion
from ..rows.units import PLAIN, Unit
from . import fixtures, scenes

Kind = Literal[
    "row",
    "source",
    "operation",
    "function",
    "draw",
    "force",
    "ride",
    "contact",
    "cue",
    "look",
    "once",
    "prop",
    "mask",
    "shaping",
    "finish",
]
NONE: tuple[None, None] = (None, None)
WORDS: dict[str, str] = {
    "row": "It goes from little to much and back.",
    "source": "Dark where it is little, bright where it is much.",
    "operation": "Size is a bell over life under it.",
    "function": "Coloured by what it gives, dark at -1, bright at 1.",
    "draw": "Where many are born, it is likely.",
    "force": "It alone acts here.",
    "ride": "It alone has them here.",
    "contact": "It alone is in their way.",
    "cue": "They are thrown up anew when it happens.",
    "look": "All of them are drawn so.",
    "once": "Every particle here has it.",
    "prop": "It turns; particles are born on it.",
    "shaping": "It moves what is already simulated, more and less.",
    "finish": "It acts more and less on what is seen.",
    "mask": "Bright where it is 1, dark where it is 0.",
}


@dataclass(frozen=True)
class Card:
    """What a card says. kind: of what; name: which of that kind. shows: what its picture shows; low, high: about what
    it is set to or gives, in `unit`. tries: two examples that can be tried, in words."""

    key: str
    kind: Kind
    name: str
    label: str
    help: str
    shows: str
    unit: Unit
    low: float | None
    high: float | None
    tries: tuple[str, str]
    scene: Callable[[], dict[str, Any] | None]

    def effect(self) -> Effect | None:
        """Return the effect that its picture is of; None where nothing shows it."""
        data = self.scene()
        return None if data is None else read_effect(data)


@dataclass(frozen=True)
class Family:
    """Kinds of parts that each have a card: their union, two examples in words, and what shows one of them."""

    union: OpenUnion
    tries: tuple[str, str]
    scene: Callable[[str], dict[str, Any] | None]


FAMILIES: dict[Kind, Family] = {
    "source": Family(SOURCES, ("size by it", "colour by it"), scenes.source_scene),
    "draw": Family(DRAWS, ("sizes of this kind", "launch speeds of this kind"), scenes.draw_scene),
    "force": Family(PUSHES, ("add it", "add it, growing over life"), partial(scenes.part_scene, "force")),
    "ride": Family(RIDES, ("add it", "add it, let go at half life"), partial(scenes.part_scene, "ride")),
    "contact": Family(CONTACTS, ("add it", "add it, and let them stay where they land"), scenes.contact_scene),
    "cue": Family(CUES, ("add it, and let it end them", "add it, and let it throw them up"), scenes.cue_scene),
    "look": Family(LOOKS, ("draw them so", "draw them so as well"), scenes.look_scene),
    "prop": Family(PROPS, ("size by the distance to one", "colour by the distance to one"), scenes.prop_scene),
    "mask": Family(MASKS, ("seen only within one", "coloured within one"), scenes.mask_scene),
    "shaping": Family(SHAPINGS, ("add it", "add it, late in life alone"), scenes.shaping_scene),
    "finish": Family(FINISH, ("add it", "add it, growing over the clip"), scenes.finish_scene),
}


def _every() -> Iterator[Card]:
    kind: Kind
    clip = Clip(frame_rate=(25, 1), first_frame=0, last_frame=fixtures.LAST)
    yield from _rows()
    yield from _family("source")
    for tag, (sign, text) in OPERATIONS.items():
        words = ("size over life under it", "opacity over life under it")
        label = f"{sign} {tag.replace('_', ' ')}"
        yield _card("operation", tag, label, text, words, partial(scenes.operation_scene, tag))
    for name, function in FUNCTIONS.items():
        label, words = f"{name}({', '.join(function.parameters)})", ("size by it", "colour by it")
        yield _card("function", name, label, function.help, words, _function(name))
    for kind in ("draw", "force", "ride", "contact", "cue", "look"):
        yield from _family(kind)
    for path, once in ONCE.items():
        suggestions = once.suggestions(clip)
        assert suggestions is not None, path
        words, tag = (suggestions[0].words, suggestions[1].words), ".".join(path)
        yield _card("once", tag, once.label, summary(once), words, partial(scenes.once_scene, tag))
    for kind in ("prop", "mask", "shaping", "finish"):
        yield from _family(kind)


def _rows() -> Iterator[Card]:
    for spec in emitter_rows():
        usual = fixtures.usual(spec) if spec.kind != "colour" else (None, None)
        if spec.kind == "colour":
            words = ("the colours of cooling", "a colour of each one's own")
        else:
            words = (
                "a bell over life" if spec.stage == "live" else "more and more over the clip",
                "each one's own, ± 40 %" if spec.stage != "emitter" else "pulses, twice a second",
            )
        yield _card("row", spec.key, spec.label, spec.help, words, _row(spec.key), spec.unit, usual)


def _family(name: Kind) -> Iterator[Card]:
    """Yield a card for each kind of a family, its facts as the kind has them."""
    family = FAMILIES[name]
    for tag, kind in family.union.kinds.items():
        if tag in family.union.nested:  # a union of its own
            continue
        unit, usual = (kind.unit, kind.usual) if name == "source" else (PLAIN, (0.0, 1.0) if name == "mask" else NONE)
        yield _card(name, tag, kind.label, summary(kind), family.tries, partial(family.scene, tag), unit, usual)


def _card(
    kind: Kind,
    name: str,
    label: str,
    text: str,
    tries: tuple[str, str],
    scene: Callable[[], dict[str, Any] | None],
    unit: Unit = PLAIN,
    usual: tuple[float | None, float | None] = NONE,
) -> Card:
    return Card(f"{kind}:{name}", kind, name, label, text, WORDS[kind], unit, *usual, tries, scene)


def _row(key: str) -> Callable[[], dict[str, Any] | None]:
    def scene() -> dict[str, Any] | None:
        found = scenes.row_scene(key)
        return None if found is None else found[0]

    return scene


def _function(name: str) -> Callable[[], dict[str, Any] | None]:
    function = FUNCTIONS[name]
    return lambda: scenes.function_scene(name, function.parameters[: function.fewest], function.example)


CARDS: dict[str, Card] = {card.key: card for card in _every()}


def card_of(key: str) -> Card:
    """Return a card. Raises RequestError for one that is not there."""
    if key not in CARDS:
        raise RequestError(
            f"There is no card {key[:60]!r}.", where="key", remedy="Ask for one of those that are listed."
        )
    return CARDS[key]
