"""Births as the parts that a prop falls into: each part once, where it is in the prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ...errors import Finding
from ...formula import Values
from ...geometry.breaking import BREAK_KINDS, BreakKind, label_and_help
from ...rows.example import Example
from ...rows.model import VALUE, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.units import PERCENT
from ...rows.view import find_thing
from .base import BirthReader, Effectlike
from .bound import BINDING, BirthsOnProp, BoundPlace

INTO = tuple((name, label_and_help(name)[0]) for name in BREAK_KINDS)
OF_CELLS = frozenset({"count", "seed", "splinters", "finer"})


class PartsPlace(BoundPlace):
    """Each part that a prop falls into is a particle, born where it is in the prop."""

    label = "Parts of a prop"
    help = (
        "A prop falls into parts, and each of them is a particle: letters, triangles, scraps, solid cells. Drawn as "
        "pieces they fill it."
    )
    counted: ClassVar[bool] = True
    example = Example(fields={"into": "scraps"})

    kind: Literal["parts"]
    prop: Annotated[
        Uid,
        Refers("props", "breaks", "{name} is made of parts of a prop that is not there.", "Choose another."),
        Setting("Which prop", "What falls apart."),
    ]
    into: Annotated[BreakKind, Setting("Falls into", "What it falls into.", choices=INTO)] = "separate"
    count: Annotated[int, VALUE, Field(ge=1, le=5000), Setting("How many", "About how many cells or scraps.")] = 60
    seed: Annotated[int, VALUE, Field(ge=0, le=1_000_000), Setting("Other cuts", "Another number, other cuts.")] = 0
    splinters: Annotated[
        float,
        VALUE,
        Field(ge=0, le=1),
        Setting("Splinters", "The share of them that are slivers, side by side.", PERCENT),
    ] = 0.0
    finer: Annotated[
        Uid | None,
        Refers(
            "props", "film", "{name} falls into parts by a picture that is not there.", "Choose another, or even parts."
        ),
        Setting("Finer where", "A picture: where it is bright, parts are small and many.", nothing="alike everywhere"),
    ] = None
    closing: Annotated[
        bool, Setting("Its hull instead", "Of a prop that is not closed, the hull about it is broken, which always is.")
    ] = False

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": "parts"}

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.breaks for prop in effect.props) else "There is no prop to break up."

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field == "prop":
            return [prop for prop in effect.props if prop.breaks]
        return [prop for prop in effect.props if prop.film] if field == "finer" else None

    def unused(self) -> frozenset[str]:
        off = set() if self.into in ("scraps", "cells") else set(OF_CELLS)
        return frozenset(off | (set() if self.into == "cells" else {"closing"}))

    def asked(self) -> str:
        cells = (
            (self.count, self.seed, self.splinters, self.finer, self.closing)
            if self.into in ("scraps", "cells")
            else ()
        )
        return f"parts {self.into} {cells}"

    def pictures_asked(self) -> tuple[str, ...]:
        return (self.finer,) if self.finer and "finer" not in self.unused() else ()

    def picks(self, at: BirthReader) -> Values:
        none = at.builder.const(0)
        return self.part(at)[0], none, none, none

    def part(self, at: Reader) -> Values:
        """Return the number of a particle's part: it is counted on where parts are born more than once."""
        return (at.builder.op("number", at.builder.input("key")),)

    def part_facts(self, at: Reader) -> Values:
        """Return how much of the prop a particle's part is, against the mean of all, and how long its longest side is,
        metres."""
        return at.builder.multi("prop_part", *self.part(at), at.clip_time(), attrs=(BirthsOnProp(at.owner),))

    def turned(self, at: Reader) -> Values:
        """Return how the place of birth of a particle is turned, from rest, at the reader's time: a unit quaternion."""
        b = at.builder
        binding = self.remembered(at).values() if at.newborn else (b.input(name) for name in BINDING)  # type: ignore[arg-type]
        return b.multi("prop_turned", *binding, at.clip_time(), attrs=(BirthsOnProp(at.owner),))

    def findings(self, effect: Effectlike, emitter: Any, where: str) -> Iterator[Finding]:
        prop = find_thing(effect.props, self.prop)
        if prop is not None and self.into == "areas" and not prop.film:
            yield Finding(
                "link",
                f"{where}.births.place.into",
                f"{prop.name} is no picture and has no areas.",
                "Let it fall into something else.",
            )
        if prop is None:
            yield Finding(
                "link",
                f"{where}.births.place.prop",
                f"{emitter.name} is made of parts of a prop that is not there.",
                "Choose another place.",
            )
