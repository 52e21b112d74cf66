"""What a particle last touched, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of
from ...rows.contact_state import TOUCH
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart, source_of
from ...rows.units import DEGREES, METRES_PER_SECOND, PLAIN, SECONDS, Unit, si_symbol
from ...rows.view import View
from ..contacts.base import remembered

# of each: what it is called, its unit, what usually comes, the name in formulas, help
PARTS: dict[str, tuple[str, Unit, tuple[float, float], str, str]] = {
    "touching": ("touching", PLAIN, (0, 1), "touching", "1 while it touches a contact, else 0."),
    "count": ("touches", PLAIN, (0, 5), "touches", "How often it has come upon a contact."),
    "since_first": (
        "since its first touch",
        SECONDS,
        (0, 2),
        "since_first_touch",
        "Seconds since it first touched a contact; 0 before.",
    ),
    "since_last": (
        "since its last touch",
        SECONDS,
        (0, 2),
        "since_touch",
        "Seconds since it last came upon a contact; 0 before it did.",
    ),
    "speed": (
        "speed of impact",
        METRES_PER_SECOND,
        (0, 5),
        "touch_speed",
        "How fast it came upon what it last touched.",
    ),
    "angle": (
        "angle of impact",
        DEGREES,
        (0, 1.5707964),
        "touch_angle",
        "From straight on (0) to along the surface (90 degrees).",
    ),
    "which": (
        "contact touched",
        PLAIN,
        (0, 3),
        "touched_contact",
        "Which contact it last touched: 1 the first of those that act, 0 none.",
    ),
    "u": ("u where it touched", PLAIN, (0, 1), "touch_u", "The u of the prop's surface where it last touched."),
    "v": ("v where it touched", PLAIN, (0, 1), "touch_v", "The v of the prop's surface where it last touched."),
}


def touches(view: View) -> bool:
    """Return whether particles have contacts."""
    return any(each.acts() for each in view.thing.contacts)


def remembers(view: View) -> bool:
    """Return whether particles remember more of touches than whether and how often."""
    return len(remembered(view.thing)) == len(TOUCH)


def kept(at: Reader, name: str) -> int:
    """Return what the state keeps of touching; at a birth nought."""
    b = at.builder
    if at.newborn or not touches(at.view):
        return at.clip_time() if name in ("first", "last") else b.const(0)
    return b.input(TOUCH[name])


class TouchSource(SourcePart):
    """Whether, how often, when and how a particle touched a contact."""

    label, group, usual, reads_touches = "touch", "contacts", (0, 1), True
    words = "touch contact hit bounce impact land collide"
    help = "Whether, how often, when and how it touched a contact."
    example = Example(beside=("contact:plane",))

    kind: Literal["touch"]
    part: Annotated[
        Literal["touching", "count", "since_first", "since_last", "speed", "angle", "which", "u", "v"], NAMING
    ] = "touching"

    def facts(self, view: View) -> SourceFacts:
        words, unit, usual, _, _ = PARTS[self.part]
        return replace(self.kind_facts(), label=words, unit=unit, input=usual)

    def missing(self, view: View) -> str:
        return "" if touches(view) else "what it touches, and this emitter has no contacts"

    def kept(self, view: View) -> bool:
        return touches(view) and (self.part in ("touching", "count") or remembers(view))

    def column(self) -> str:
        return f"touch.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if touches(view):
            for part, (_, _, _, _, help) in PARTS.items():
                yield cls.entry({"kind": "touch", "part": part}, cls.group, help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if touches(view):
            for part, (words, unit, _, name, help) in PARTS.items():
                source = source_of({"kind": "touch", "part": part})
                yield Known(name, "number", dimension_of(unit.symbol), source, words, help, si_symbol(unit), True, True)

    def write(self, at: Reader) -> Values:
        b = at.builder
        if self.part not in ("since_first", "since_last"):
            return (kept(at, self.part),)
        touched = b.op("less", b.const(0), kept(at, "count"))
        since = b.op("sub", at.clip_time(), kept(at, self.part.removeprefix("since_")))
        return (b.op("select", touched, b.op("max", since, b.const(0)), b.const(0)),)


class OfTouch(SourcePart):
    """What is told of where a particle touched: offered, and named in formulas, where it has contacts."""

    reads_touches = True

    def kept(self, view: View) -> bool:
        return touches(view) and remembers(view)

    def missing(self, view: View) -> str:
        return "" if touches(view) else f"{self.label}, and this emitter has no contacts"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if touches(view):
            yield from super().listed(view)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if touches(view):
            yield from super().named(view)
