"""A plane: the floor, a wall, the water's surface."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.example import Example
from ...rows.model import Driven, Guide
from ...rows.responses import VectorRow, vector
from ...rows.units import METRES, PLAIN
from ...rows.writing import row
from .base import ShapedContact


class PlaneContact(ShapedContact):
    """A plane without end; particles are kept on the side that it faces."""

    label = "Plane"
    help = "A plane without end, as a floor or the water: particles are kept on the side that it faces."
    bounds = ("point", "normal")
    guides = (Guide("arrow", at="point", direction="normal", moved=True),)
    example = Example(fields={"point": row([0.0, 0.25, 0.0])})

    kind: Literal["plane"] = "plane"
    point: Annotated[
        VectorRow, Driven("Place", METRES, -10_000, 10_000, 2, (0.0, 0.0, 0.0), "A place on it.", always=True)
    ] = vector(0, 0, 0)
    normal: Annotated[
        VectorRow,
        Driven(
            "Faces",
            PLAIN,
            -1000,
            1000,
            2,
            (0.0, 1.0, 0.0),
            "Which way it faces; its length does not matter.",
            always=True,
        ),
    ] = vector(0, 1, 0)
