"""A sphere."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven, Guide
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.units import METRES
from .base import HollowContact, in_the_way


class SphereContact(HollowContact):
    """A sphere: particles are kept off it, or within it."""

    label = "Sphere"
    help = "A sphere that particles are kept off, or within."
    bounds = ("centre", "radius")
    guides = (Guide("ball", at="centre", radius="radius", moved=True),)
    example = in_the_way({"shape": "sphere", "radius": 0.5})

    kind: Literal["sphere"] = "sphere"
    centre: Annotated[
        VectorRow, Driven("Middle", METRES, -10_000, 10_000, 2, (0.0, 0.5, 0.0), "Where its middle is.", always=True)
    ] = vector(0, 0.5, 0)
    radius: Annotated[
        NumberRow, Driven("Radius", METRES, 0, 10_000, 2, 0.5, "From its middle to its surface.", always=True)
    ] = number(0.5)
