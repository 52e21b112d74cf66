"""Births in or on a box."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Guide, Setting
from ...rows.responses import VectorRow
from .base import BirthReader, On, PlacePart, uniforms
from .shape import CENTRE, SIZE, around


class Box(PlacePart):
    label = "Box"
    help = "Anywhere inside a box, or on its sides."
    guides = (Guide("box", at="centre", size="size"),)

    kind: Literal["box"] = "box"
    centre: Annotated[VectorRow, CENTRE]
    size: Annotated[VectorRow, SIZE]
    on: Annotated[
        On,
        Setting(
            "Where on it", "Where on the box.", choices=(("inside", "anywhere inside"), ("surface", "on its surface"))
        ),
    ] = "inside"

    def faces_out(self) -> bool:
        return self.on == "surface"

    def born(self, at: BirthReader) -> Values:
        b = at.builder
        centre, size = self.row(at, "centre"), self.row(at, "size")
        u, v, w = uniforms(at)
        if self.on == "surface":
            on_face = b.multi("box_surface", *size, u, v, w)
            return (*around(b, centre, on_face[:3]), *on_face[3:], v, w)
        half, zero = b.const(0.5), b.const(0)
        offset = tuple(b.op("mul", s, b.op("sub", x, half)) for s, x in zip(size, (u, v, w), strict=True))
        return (*around(b, centre, offset), zero, b.const(1), zero, u, w)
