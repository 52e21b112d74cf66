"""How far one of a particle's own axes is from where it could point, as a source: of particles that are turned in
space."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of
from ...rows.example import Example
from ...rows.reader import Reader, weighted
from ...rows.slots import CameraValue
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart, source_of
from ...rows.turn import rotate
from ...rows.units import DEGREES, si_symbol
from ...rows.view import View
from .own_axis import turning_of

TO = {"camera": "to the camera", "motion": "to its motion", "up": "to straight up"}


class OwnAngleSource(SourcePart):
    """The angle from the particle's own x, y or z axis to the effect's camera, to its motion, or to straight up: 0 to
    pi."""

    label, group, unit, usual, shape = "angle of its axis", "motion", DEGREES, (0, math.pi), "number"
    words = "orientation facing turned toward camera motion glint edge on"
    help = "How far one of its own axes is from pointing to the camera, along its motion, or up; 90° is edge on."
    example = Example(beside=("once:motion.turning",))

    kind: Literal["own_angle"]
    own: Annotated[Literal["x", "y", "z"], NAMING] = "z"
    to: Annotated[Literal["camera", "motion", "up"], NAMING] = "camera"

    def facts(self, view: View) -> SourceFacts:
        return SourceFacts(**{**vars(self.kind_facts()), "label": f"own {self.own} axis {TO[self.to]}"})

    def missing(self, view: View) -> str:
        return "" if turning_of(view) is not None else "its own axes; particles of this emitter are not turned in space"

    def column(self) -> str:
        return f"own_angle.{self.own}.{self.to}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if turning_of(view) is not None:
            for own in ("z", "y", "x"):
                for to in TO:
                    yield cls.entry({"kind": "own_angle", "own": own, "to": to}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if turning_of(view) is not None:
            for own in ("x", "y", "z"):
                for to, where in TO.items():
                    source = source_of({"kind": "own_angle", "own": own, "to": to})
                    name = f"own_{own}_to_{to}"
                    yield Known(
                        name,
                        "number",
                        dimension_of(cls.unit.symbol),
                        source,
                        f"own {own} axis {where}",
                        cls.help,
                        si_symbol(cls.unit),
                        True,
                        True,
                    )

    def write(self, at: Reader) -> Values:
        b = at.builder
        axis = tuple(b.const(float(name == self.own)) for name in ("x", "y", "z"))
        turning = at.view.thing.motion.turning
        axis = axis if turning is None else rotate(b, turning.stands(at), axis)
        if self.to == "up":
            up: Values = (b.const(0), b.const(1), b.const(0))
        elif self.to == "motion":
            up = at.state("velocity")
        else:
            up = tuple(b.op("sub", b.param(CameraValue(3 + 4 * k)), p) for k, p in enumerate(at.state("position")))
        size = b.op("max", b.op("length", *up), b.const(1e-9))
        within = b.op("max", b.op("min", b.op("div", weighted(b, axis, up), size), b.const(1)), b.const(-1))
        return (b.op("acos", within),)
