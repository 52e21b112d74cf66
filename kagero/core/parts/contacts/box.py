"""A box."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven, Guide
from ...rows.responses import VectorRow, vector
from ...rows.units import METRES
from .base import HollowContact, in_the_way


class BoxContact(HollowContact):
    """A box: particles are kept off it, or within it. In a prop's space it turns as the prop does."""

    label = "Box"
    help = "A box that particles are kept off, or within."
    bounds = ("centre", "size")
    guides = (Guide("box", at="centre", size="size", moved=True),)
    example = in_the_way({"shape": "box", "width": 1.0, "height": 1.0, "depth": 1.0})

    kind: Literal["box"] = "box"
    centre: Annotated[
        VectorRow, Driven("Middle", METRES, -10_000, 10_000, 2, (0.0, 0.5, 0.0), "Where its middle is.", always=True)
    ] = vector(0, 0.5, 0)
    size: Annotated[
        VectorRow, Driven("Size", METRES, 0, 10_000, 2, (1.0, 1.0, 1.0), "How wide, high and deep it is.", always=True)
    ] = vector(1, 1, 1)
