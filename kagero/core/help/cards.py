"""Cards: what each thing of the sheet is, in a sentence, its usual range, and what shows it. Derived from the parts; no
kind is named here."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from ..catalog.describe import OPERATIONS, emitter_rows
from ..document import ONCE, Effect, read_effect
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
from ..rows.units import PLAIN, Unit
from . import dependent_scenes, scene_parts, scenes

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


def _every() -> Iterator[Card]:
    for spec in emitter_rows():
        low, high = scene_parts.usual(spec) if spec.kind != "colour" else (None, None)
        alive = spec.stage == "live"
        first = (
            "the colours of cooling"
            if spec.kind == "colour"
            else "a bell over life"
            if alive
            else "more and more over the clip"
        )
        second = (
            "a colour of each one's own"
            if spec.kind == "colour"
            else "each one's own, ± 40 %"
            if spec.stage != "emitter"
            else "pulses, twice a second"
        )
        yield Card(
            f"row:{spec.key}",
            "row",
            spec.key,
            spec.label,
            spec.help,
            WORDS["row"],
            spec.unit,
            low,
            high,
            (first, second),
            _row(spec.key),
        )
    for tag, source in SOURCES.kinds.items():
        low, high = source.usual
        yield Card(
            f"source:{tag}",
            "source",
            tag,
            source.label,
            summary(source),
            WORDS["source"],
            source.unit,
            low,
            high,
            ("size by it", "colour by it"),
            _of(scenes.source_scene, tag),
        )
    for tag, (sign, text) in OPERATIONS.items():
        yield Card(
            f"operation:{tag}",
            "operation",
            tag,
            f"{sign} {tag.replace('_', ' ')}",
            text,
            WORDS["operation"],
            PLAIN,
            None,
            None,
            ("size over life under it", "opacity over life under it"),
            _of(scenes.operation_scene, tag),
        )
    for name, function in FUNCTIONS.items():
        yield Card(
            f"function:{name}",
            "function",
            name,
            f"{name}({', '.join(function.parameters)})",
            function.help,
            WORDS["function"],
            PLAIN,
            None,
            None,
            ("size by it", "colour by it"),
            _function(name),
        )
    for tag, draw in DRAWS.kinds.items():
        yield Card(
            f"draw:{tag}",
            "draw",
            tag,
            draw.label,
            summary(draw),
            WORDS["draw"],
            PLAIN,
            None,
            None,
            ("sizes of this kind", "launch speeds of this kind"),
            _of(scenes.draw_scene, tag),
        )
    for tag, push in PUSHES.kinds.items():
        yield Card(
            f"force:{tag}",
            "force",
            tag,
            push.label,
            summary(push),
            WORDS["force"],
            PLAIN,
            None,
            None,
            ("add it", "add it, growing over life"),
            _of(scenes.push_scene, tag),
        )
    for tag, ride in RIDES.kinds.items():
        yield Card(
            f"ride:{tag}",
            "ride",
            tag,
            ride.label,
            summary(ride),
            WORDS["ride"],
            PLAIN,
            None,
            None,
            ("add it", "add it, let go at half life"),
            _of(scenes.ride_scene, tag),
        )
    for tag, contact in CONTACTS.kinds.items():
        yield Card(
            f"contact:{tag}",
            "contact",
            tag,
            contact.label,
            summary(contact),
            WORDS["contact"],
            PLAIN,
            None,
            None,
            ("add it", "add it, and let them stay where they land"),
            _of(scenes.contact_scene, tag),
        )
    for tag, cue in CUES.kinds.items():
        yield Card(
            f"cue:{tag}",
            "cue",
            tag,
            cue.label,
            summary(cue),
            WORDS["cue"],
            PLAIN,
            None,
            None,
            ("add it, and let it end them", "add it, and let it throw them up"),
            _of(scenes.cue_scene, tag),
        )
    for tag, look in LOOKS.kinds.items():
        yield Card(
            f"look:{tag}",
            "look",
            tag,
            look.label,
            summary(look),
            WORDS["look"],
            PLAIN,
            None,
            None,
            ("draw them so", "draw them so as well"),
            _of(scenes.look_scene, tag),
        )
    for path, once in ONCE.items():
        tag = ".".join(path)
        yield Card(
            f"once:{tag}",
            "once",
            tag,
            once.label,
            summary(once),
            WORDS["once"],
            PLAIN,
            None,
            None,
            scenes.ONCE_TRIES[tag],
            _of(scenes.once_scene, tag),
        )
    for tag, prop in PROPS.kinds.items():
        if not prop.mask:
            yield Card(
                f"prop:{tag}",
                "prop",
                tag,
                prop.label,
                summary(prop),
                WORDS["prop"],
                PLAIN,
                None,
                None,
                ("size by the distance to one", "colour by the distance to one"),
                _of(scenes.prop_scene, tag),
            )
    for tag, mask in MASKS.kinds.items():
        yield Card(
            f"mask:{tag}",
            "mask",
            tag,
            mask.label,
            summary(mask),
            WORDS["mask"],
            PLAIN,
            0.0,
            1.0,
            ("seen only within one", "coloured within one"),
            _of(dependent_scenes.mask_scene, tag),
        )
    for tag, shaping in SHAPINGS.kinds.items():
        yield Card(
            f"shaping:{tag}",
            "shaping",
            tag,
            shaping.label,
            summary(shaping),
            WORDS["shaping"],
            PLAIN,
            None,
            None,
            ("add it", "add it, late in life alone"),
            _of(dependent_scenes.shaping_scene, tag),
        )
    for tag, finish in FINISH.kinds.items():
        yield Card(
            f"finish:{tag}",
            "finish",
            tag,
            finish.label,
            summary(finish),
            WORDS["finish"],
            PLAIN,
            None,
            None,
            ("add it", "add it, growing over the clip"),
            _of(scenes.finish_scene, tag),
        )


def _of(scene: Callable[[str], dict[str, Any] | None], name: str) -> Callable[[], dict[str, Any] | None]:
    return lambda: scene(name)


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
