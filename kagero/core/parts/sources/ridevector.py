"""What vectors at the place of a ride have in common."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated

from ...formula import Values
from ...rows.attributes import VectorPart, facts_of_part, part_of, parts_listed
from ...rows.model import Refers, Uid, Vector
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, Node, SourceFacts, SourcePart
from ...rows.view import View, find_thing
from .ride import ride_name, ride_rows, rides_of


class RideVector(SourcePart):
    """A vector at the place where a ride has the particle: a component, its length, its extent along an axis, or the
    whole."""

    group, shape, after = "motion", "vector", "place"

    ride: Annotated[Uid, Refers("rides")]
    part: Annotated[VectorPart, NAMING] = "length"
    axis: Vector = (0.0, 1.0, 0.0)

    def facts(self, view: View) -> SourceFacts:
        return facts_of_part(replace(self.kind_facts(), label=f"{ride_name(view, self.ride)}: {self.label}"), self.part)

    def missing(self, view: View) -> str:
        ride = find_thing(rides_of(view), self.ride)
        return (
            ""
            if ride is not None and "normal" in ride.tells
            else f"a ride on a surface that is not there: {self.ride!r}"
        )

    def column(self) -> str:
        return f"{self.kind}.{self.ride}" + ("" if self.part == "whole" else f".{self.part}")

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for ride in rides_of(view):
            if "normal" in ride.tells:
                base = {"kind": cls.tag(), "ride": ride.uid}
                yield from parts_listed(cls, base, "vector", cls.group, cls.help, along=True)
                yield cls.entry({**base, "part": "whole"}, cls.group, cls.help)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        yield from ride_rows(view, self.ride, stage)

    def values(self, at: Reader) -> Values:
        """Return the whole vector."""
        raise NotImplementedError

    def write(self, at: Reader) -> Values:
        return part_of(at, self.values(at), self.part, self.axis)
