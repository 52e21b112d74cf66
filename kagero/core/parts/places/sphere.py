"""Births in or on a sphere."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Guide, Setting
from ...rows.responses import NumberRow, VectorRow
from .base import BirthReader, On, PlacePart, uniforms
from .shape import CENTRE, RADIUS, around, turned


class Sphere(PlacePart):
    label = "Sphere"
    help = "Anywhere inside a ball, or on its surface."
    guides = (Guide("ball", at="centre", radius="radius"),)

    kind: Literal["sphere"] = "sphere"
    centre: Annotated[VectorRow, CENTRE]
    radius: Annotated[NumberRow, RADIUS]
    on: Annotated[
        On,
        Setting(
            "Where on it",
            "Where on the sphere.",
            choices=(("inside", "anywhere inside"), ("surface", "on its surface")),
        ),
    ] = "inside"

    def faces_out(self) -> bool:
        return self.on == "surface"

    def born(self, at: BirthReader) -> Values:
        b = at.builder
        one = b.const(1)
        u, v, w = uniforms(at)
        cosine, sine = turned(b, u)
        share = one if self.on == "surface" else b.op("cbrt", w)
        reach = b.op("mul", self.row(at, "radius")[0], share)
        y = b.op("sub", b.op("mul", v, b.const(2)), one)
        flat = b.op("sqrt", b.op("sub", one, b.op("mul", y, y)))
        normal = (b.op("mul", cosine, flat), y, b.op("mul", sine, flat))
        ring = b.op("mul", reach, flat)
        offset = (b.op("mul", cosine, ring), b.op("mul", y, reach), b.op("mul", sine, ring))
        return (*around(b, self.row(at, "centre"), offset), *normal, u, v)
