"""A cylinder."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven, Guide
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.units import METRES
from .base import HollowContact, in_the_way


class CylinderContact(HollowContact):
    """An upright cylinder with its ends: particles are kept off it, or within it. In a prop's space it turns as the
    prop does."""

    label = "Cylinder"
    help = "An upright cylinder that particles are kept off, or within."
    bounds = ("centre", "radius", "height")
    guides = (Guide("disc", at="centre", radius="radius", moved=True),)
    example = in_the_way({"shape": "cylinder", "radius": 0.3, "height": 1.0})

    kind: Literal["cylinder"] = "cylinder"
    centre: Annotated[
        VectorRow, Driven("Middle", METRES, -10_000, 10_000, 2, (0.0, 0.5, 0.0), "Where its middle is.", always=True)
    ] = vector(0, 0.5, 0)
    radius: Annotated[
        NumberRow, Driven("Radius", METRES, 0, 10_000, 2, 0.3, "From its axis to its side.", always=True)
    ] = number(0.3)
    height: Annotated[NumberRow, Driven("Height", METRES, 0, 10_000, 2, 1.0, "From end to end.", always=True)] = number(
        1
    )
