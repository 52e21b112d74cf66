"""What a ride knows of its particle, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.model import Refers, Uid, fields_of
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, Node, SourceFacts, SourcePart
from ...rows.units import PERCENT, PLAIN, SECONDS
from ...rows.view import View, find_thing

PARTS = {
    "along": ("place along", PERCENT, "How far along its path the particle rides, by the length."),
    "u": ("u", PLAIN, "The u at which the particle rides on the surface."),
    "v": ("v", PLAIN, "The v at which the particle rides on the surface."),
    "released": ("let go since", SECONDS, "Seconds since the particle was last let go; 0 while it is held."),
}


class RideSource(SourcePart):
    """Where a ride has the particle, and for how long it has let it go."""

    label, group = "ride", "motion"
    words = "path surface climb along held released let go"
    help = "Where a ride has the particle."
    after = "place"
    example = Example(beside=("ride:path",))

    kind: Literal["ride"]
    ride: Annotated[Uid, Refers("rides")]
    part: Annotated[Literal["along", "u", "v", "released"], NAMING] = "along"

    def facts(self, view: View) -> SourceFacts:
        words, unit, _ = PARTS[self.part]
        return replace(self.kind_facts(), label=f"{ride_name(view, self.ride)}: {words}", unit=unit)

    def missing(self, view: View) -> str:
        ride = find_thing(rides_of(view), self.ride)
        return (
            ""
            if ride is not None and self.part in ride.tells
            else f"a ride that is not there, or has no such place: {self.ride!r}"
        )

    def column(self) -> str:
        return f"ride.{self.ride}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for ride in rides_of(view):
            for part, (_, _, help) in PARTS.items():
                if part in ride.tells:
                    yield cls.entry({"kind": "ride", "ride": ride.uid, "part": part}, cls.group, help)

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        yield from ride_rows(view, self.ride, stage)

    def write(self, at: Reader) -> Values:
        ride: Any = find_thing(at.view.thing.rides, self.ride)
        if self.part == "released":
            return (ride.released(at),)
        return ride.ride_columns(at)[self.part]


def rides_of(view: View) -> list[Any]:
    return view.thing.rides


def ride_name(view: View, uid: str) -> str:
    """Return what a ride is called: its kind, and its number where there are several."""
    rides = rides_of(view)
    ride = find_thing(rides, uid)
    if ride is None:
        return "missing ride"
    alike = [each.uid for each in rides if each.label == ride.label]
    name = ride.label[0].lower() + ride.label[1:]
    return name if len(alike) == 1 else f"{name} {alike.index(uid) + 1}"


def ride_rows(view: View, uid: str, stage: str) -> Iterator[Node]:
    """Yield the rows that say where a ride has its particle."""
    ride = find_thing(rides_of(view), uid)
    if ride is not None:
        names = [facts.name for facts in fields_of(type(ride)) if facts.driven and facts.name in ride.places]
        yield from ((stage, f"rides.{uid}.{name}") for name in names)
