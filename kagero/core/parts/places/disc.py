"""Births on a level disc."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Guide, Setting
from ...rows.responses import NumberRow, VectorRow
from .base import BirthReader, On, PlacePart, uniforms
from .shape import CENTRE, RADIUS, around, turned


class Disc(PlacePart):
    """A level disc; inside means anywhere on it, surface means its rim."""

    label = "Disc"
    guides = (Guide("disc", at="centre", radius="radius"),)

    kind: Literal["disc"] = "disc"
    centre: Annotated[VectorRow, CENTRE]
    radius: Annotated[NumberRow, RADIUS]
    on: Annotated[
        On,
        Setting("Where on it", "Where on the disc.", choices=(("inside", "anywhere on it"), ("surface", "on its rim"))),
    ] = "inside"

    def born(self, at: BirthReader) -> Values:
        b = at.builder
        centre, zero, one = self.row(at, "centre"), b.const(0), b.const(1)
        u, v, _ = uniforms(at)
        cosine, sine = turned(b, u)
        share = one if self.on == "surface" else b.op("sqrt", v)
        reach = b.op("mul", self.row(at, "radius")[0], share)
        offset = (b.op("mul", cosine, reach), zero, b.op("mul", sine, reach))
        return (*around(b, centre, offset), zero, one, zero, u, share)
