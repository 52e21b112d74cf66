"""Births from another emitter's particles."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from ...errors import Finding
from ...formula import Values
from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT
from ...rows.view import find_thing
from .base import BirthReader, Effectlike, PlacePart

# what the state keeps of a parent, as it was at the birth
PARENT = (
    *(f"parent.{name}.{i}" for name in ("position", "velocity", "colour") for i in range(3)),
    *(f"parent.{name}" for name in ("age", "life", "size", "speed", "opacity")),
)
NORMAL = tuple(f"parent.normal.{i}" for i in range(3))  # where they are born at a cue
MOST_GENERATIONS = 5


class FromParticles(PlacePart):
    """From another emitter's particles, while these live. Each leaves births at the rate, from its own birth on."""

    label = "Particles"
    bears = parted = True

    kind: Literal["particles"]
    emitter: Annotated[
        Uid,
        Refers("emitters"),
        Setting("Whose particles", "The emitter whose particles leave births; the rate is of each."),
    ]
    cue: Annotated[
        Uid | None,
        Refers("cues"),
        Setting(
            "Born",
            "At the rate, all along their lives; or at a cue of theirs: as many as that says.",
            nothing="at the rate, all along",
        ),
    ] = None
    inherit_size: Annotated[
        NumberRow,
        Driven(
            "Size from parent",
            PERCENT,
            0,
            10,
            2,
            0.0,
            "How much of the parent's size, as it was at this birth, goes into the particle's own.",
        ),
    ] = number(0)
    inherit_colour: Annotated[
        NumberRow,
        Driven(
            "Colour from parent",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How much of the parent's colour, as it was at this birth, takes the place of the particle's own.",
        ),
    ] = number(0)

    def possible(self, effect: Any, thing: Any) -> str:
        return (
            ""
            if self.named_by("emitter", effect, thing)
            else "There is no other emitter that does not come from this one."
        )

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field == "cue":
            parent = find_thing(effect.emitters, self.emitter)
            return [] if parent is None else list(parent.cues)
        if field != "emitter":
            return None
        return [other for other in effect.emitters if not _comes_from(effect, other, thing.uid)]

    def settled_fields(self, effect: Any, thing: Any) -> dict[str, Any]:
        return {"births.bursts": []}

    def cue_of(self) -> str | None:
        return self.cue

    def emitter_from(self) -> str | None:
        return self.emitter

    def born(self, at: BirthReader) -> Values:
        b = at.builder
        zero, one = b.const(0), b.const(1)
        if self.cue is None:
            return (*at.parent("position", 3), zero, one, zero, zero, zero)
        x, y, z = at.parent("normal", 3)  # of what was touched there; up where nothing was
        up = b.op("select", b.op("length", x, y, z), y, one)
        return (*at.parent("position", 3), x, up, z, zero, zero)

    def velocity(self, at: BirthReader) -> Values | None:
        return at.parent("velocity", 3)

    def remembered(self, at: BirthReader) -> dict[str, int]:
        return {name: at.builder.input(name) for name in (*PARENT, *(NORMAL if self.cue is not None else ()))}

    def alters(self, address: str) -> tuple[str, ...] | None:
        part = {"look.size": "size", "look.colour": "colour"}.get(address)
        return (f"births.place.inherit_{part}",) if part else None

    def altered(self, at: Reader, address: str, value: Values) -> Values:
        b, (part, count) = at.builder, (("size", 1) if address == "look.size" else ("colour", 3))
        share = self.row(at, f"inherit_{part}")[0]
        mixed = tuple(
            b.op("mix", v, p, b.op("clamp", share)) for v, p in zip(value, at.parent(part, count), strict=True)
        )
        if part == "size":  # more than all of it: many times the parent's
            mixed = (b.op("mul", mixed[0], b.op("max", share, b.const(1))),)
        return mixed

    def findings(self, effect: Effectlike, emitter: Any, where: str) -> Iterator[Finding]:
        trail, uid = [emitter.name], self.emitter
        while True:
            parent = find_thing(effect.emitters, uid)
            if parent is None:
                yield Finding(
                    "link",
                    f"{where}.births.place.emitter",
                    f"{emitter.name} comes from an emitter that is not there.",
                    "Choose another.",
                )
                break
            trail.append(parent.name)
            if parent is emitter or len(trail) > MOST_GENERATIONS:
                words = (
                    f"These emitters come from each other: {' <- '.join(trail)}."
                    if parent is emitter
                    else (f"{trail[0]} is the {len(trail)}th generation; {MOST_GENERATIONS} are allowed.")
                )
                code = "circle" if parent is emitter else "link"
                yield Finding(code, f"{where}.births.place.emitter", words, "Let one be born at a place of its own.")
                break
            uid = parent.births.place.emitter_from()
            if uid is None:
                break
        parent = find_thing(effect.emitters, self.emitter)
        cue = find_thing(parent.cues, self.cue) if parent is not None and self.cue else None
        if self.cue and parent is not None and (cue is None or cue.muted):
            words = f"{emitter.name} is born at a cue that is not there, or is muted."
            yield Finding("link", f"{where}.births.place.cue", words, "Choose another, or let it be born at the rate.")
        if emitter.births.bursts:
            words = "Births from particles have no bursts of their own."
            yield Finding("link", f"{where}.births.bursts", words, "Give the parent the burst, or raise the rate.")


def _comes_from(effect: Any, emitter: Any, uid: str) -> bool:
    """Return whether an emitter is one, or comes from its particles, through however many others."""
    for _ in range(MOST_GENERATIONS + 1):
        if emitter is None:
            return False
        if emitter.uid == uid:
            return True
        emitter = find_thing(effect.emitters, emitter.births.place.emitter_from() or "")
    return True
