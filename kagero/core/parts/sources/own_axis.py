"""Where one of a particle's own axes points, as a source: of particles that are turned in space."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import PLAIN as NO_UNIT
from ...formula import Known, Values
from ...rows.attributes import VectorAttribute, facts_of_part, parts_listed
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, source_of
from ...rows.turn import rotate
from ...rows.units import PLAIN
from ...rows.view import View


def turning_of(view: View) -> object | None:
    return None if view.thing.motion is None else view.thing.motion.turning


class OwnAxisSource(VectorAttribute):
    """Where the particle's own x, y or z axis points in the world: a unit vector."""

    label, group, unit, usual, along = "own axis", "motion", PLAIN, (-1, 1), True
    words = "orientation facing turned tumbling normal direction"
    help = "Where the particle's own axis points in the world, of length 1."
    example = Example(beside=("once:motion.turning",))

    kind: Literal["own_axis"]
    own: Annotated[Literal["x", "y", "z"], NAMING] = "z"

    def facts(self, view: View) -> SourceFacts:
        return facts_of_part(replace(self.kind_facts(), label=f"own {self.own} axis"), self.part)

    def missing(self, view: View) -> str:
        return "" if turning_of(view) is not None else "its own axes; particles of this emitter are not turned in space"

    def column(self) -> str:
        return f"own_axis.{self.own}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if turning_of(view) is not None:
            for own in ("x", "y", "z"):
                base = {"kind": "own_axis", "own": own}
                yield from parts_listed(cls, base, "vector", cls.group, cls.help, True)
                yield cls.entry({**base, "part": "whole"}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if turning_of(view) is not None:
            for own in ("x", "y", "z"):
                source = source_of({"kind": "own_axis", "own": own, "part": "whole"})
                yield Known(f"own_axis_{own}", "vector", NO_UNIT, source, f"own {own} axis", cls.help, "", True, True)

    def values(self, at: Reader) -> Values:
        b = at.builder
        axis = tuple(b.const(float(name == self.own)) for name in ("x", "y", "z"))
        turning = at.view.thing.motion.turning
        return axis if turning is None else rotate(b, turning.stands(at), axis)
