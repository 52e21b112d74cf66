"""Sources that are an attribute of a particle or prop: a number, a vector or a colour, with the parts by which vectors
and colours are read."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..formula import PLAIN as NO_UNIT
from ..formula import Known, Values, dimension_of, identifier
from .model import Refers, Uid, Vector
from .reader import Reader, weighted
from .source import NAMING, PARTS, Listed, Node, SourceFacts, SourcePart, source_of
from .units import si_symbol
from .view import View, find_thing

VectorPart = Literal["x", "y", "z", "length", "along", "whole"]
ColourPart = Literal["red", "green", "blue", "whole"]
AnyPart = Literal["x", "y", "z", "length", "along", "red", "green", "blue", "whole"]
_PLACES = {"x": 0, "y": 1, "z": 2, "red": 0, "green": 1, "blue": 2}


def part_of(at: Reader, values: Values, part: str, axis: tuple[float, float, float] = (0.0, 1.0, 0.0)) -> Values:
    """Return a part of a vector or colour: a component, its length, its extent along an axis, or the whole; a number
    itself."""
    if part == "whole" or len(values) == 1:
        return values
    if part == "length":
        return (at.builder.op("length", *values),)
    if part == "along":
        length = math.sqrt(sum(x * x for x in axis)) or 1.0
        unit = [x / length for x in axis] if any(axis) else [0.0, 1.0, 0.0]
        return (weighted(at.builder, values, tuple(at.builder.const(x) for x in unit)),)
    return (values[_PLACES[part]],)


def facts_of_part(facts: SourceFacts, part: str) -> SourceFacts:
    """Return the facts of a part of a vector or colour."""
    return facts if part == "whole" else replace(facts, label=f"{facts.label} {part}", shape="number")


def parts_listed(
    kind: type[SourcePart], base: dict[str, Any], shape: str, group: str, help: str, along: bool = False
) -> Iterator[Listed]:
    """Yield the parts of a vector or colour for the list of sources, without the whole."""
    for part in PARTS[shape]:
        if part != "along" or along:
            yield kind.entry({**base, "part": part}, group, help)


class NumberAttribute(SourcePart):
    """A number that every particle has."""

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        dimension, tag = dimension_of(cls.unit.symbol), cls.tag()
        yield Known(
            tag,
            "number",
            dimension,
            source_of({"kind": tag}),
            cls.label,
            cls.help,
            si_symbol(cls.unit),
            True,
            cls.changes,
        )


class VectorAttribute(SourcePart):
    """A vector that every particle has: a component, its length, its extent along an axis, or the whole. along: whether
    that is offered."""

    shape: ClassVar[str] = "vector"
    along: ClassVar[bool] = False

    part: Annotated[VectorPart, NAMING] = "length"
    axis: Vector = Field(default=(0.0, 1.0, 0.0), description="For the part `along`; only its direction counts.")

    def values(self, at: Reader) -> Values:
        """Return the whole vector."""
        raise NotImplementedError

    def write(self, at: Reader) -> Values:
        return part_of(at, self.values(at), self.part, self.axis)

    def facts(self, view: View) -> SourceFacts:
        return facts_of_part(self.kind_facts(), self.part)

    def column(self) -> str:
        return f"{self.kind}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        yield from parts_listed(cls, {"kind": cls.tag()}, "vector", cls.group, cls.help, cls.along)
        yield cls.entry({"kind": cls.tag(), "part": "whole"}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        tag = cls.tag()
        source = source_of({"kind": tag, "part": "whole"})
        yield Known(
            tag,
            "vector",
            dimension_of(cls.unit.symbol),
            source,
            cls.label,
            cls.help,
            si_symbol(cls.unit),
            True,
            cls.changes,
        )


class PropVector(SourcePart):
    """A vector that a prop has at a time: a component, its length, or the whole. word: its name, written behind the
    prop's."""

    shape: ClassVar[str] = "vector"
    per_particle: ClassVar[bool] = False
    word: ClassVar[str] = ""

    prop: Annotated[Uid, Refers("props")]
    part: Annotated[VectorPart, NAMING] = "length"
    axis: Vector = (0.0, 1.0, 0.0)

    def values(self, at: Reader) -> Values:
        """Return the whole vector."""
        raise NotImplementedError

    def write(self, at: Reader) -> Values:
        return part_of(at, self.values(at), self.part, self.axis)

    def facts(self, view: View) -> SourceFacts:
        prop = find_thing(view.props, self.prop)
        return facts_of_part(
            replace(self.kind_facts(), label="missing prop" if prop is None else f"{prop.name} {self.word}".rstrip()),
            self.part,
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.props, self.prop) else f"a prop that is not there: {self.prop!r}"

    def column(self) -> str:
        return f"{self.name_groups[0]}.{self.prop}" + ("" if self.part == "whole" else f".{self.part}")

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for prop in view.placed:
            yield from parts_listed(cls, {"kind": cls.tag(), "prop": prop.uid}, "vector", cls.group, cls.help)
            yield cls.entry({"kind": cls.tag(), "prop": prop.uid, "part": "whole"}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        unit = si_symbol(cls.unit)
        for prop in view.placed:
            name = f"{cls.name_groups[0]}.{identifier(prop.name)}"
            source = source_of({"kind": cls.tag(), "prop": prop.uid, "part": "whole"})
            yield Known(name, "vector", dimension_of(unit), source, prop.name, cls.help, unit, False, True)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        return iter(())  # a prop reads the clip, dials and other props


class ColourAttribute(SourcePart):
    """A colour that every particle has: a component of it, or the whole."""

    shape: ClassVar[str] = "colour"
    named_help: ClassVar[str] = ""  # where formulas name it

    part: Annotated[ColourPart, NAMING] = "red"

    def values(self, at: Reader) -> Values:
        """Return the whole colour."""
        raise NotImplementedError

    def write(self, at: Reader) -> Values:
        return part_of(at, self.values(at), self.part)

    def facts(self, view: View) -> SourceFacts:
        return facts_of_part(self.kind_facts(), self.part)

    def column(self) -> str:
        return f"{self.kind}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        yield from parts_listed(cls, {"kind": cls.tag()}, "colour", cls.group, cls.help)
        yield cls.entry({"kind": cls.tag(), "part": "whole"}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        yield Known(
            cls.tag(),
            "colour",
            NO_UNIT,
            source_of({"kind": cls.tag(), "part": "whole"}),
            cls.label,
            cls.named_help or cls.help,
        )
