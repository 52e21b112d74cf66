"""Rows that places of a shape of their own have in common."""

from __future__ import annotations

from ...formula import Values
from ...program import Builder
from ...rows.model import Driven
from ...rows.units import METRES

CENTRE = Driven("Centre", METRES, -10_000, 10_000, 4, (0.0, 0.0, 0.0), "Middle of the place where particles are born.")
RADIUS = Driven("Radius", METRES, 0, 10_000, 2, 0.5, "How far from the centre particles are born.")
SIZE = Driven(
    "Box size",
    METRES,
    -10_000,
    10_000,
    4,
    (1.0, 1.0, 1.0),
    "Width, height and depth of the box in which particles are born.",
)
TURN = 6.283185307179586


def around(b: Builder, centre: Values, offset: Values) -> Values:
    """Return a place by its centre and how far it is from there."""
    return tuple(b.op("add", c, o) for c, o in zip(centre, offset, strict=True))


def turned(b: Builder, share: int) -> tuple[int, int]:
    """Return cosine and sine of a share of a whole turn."""
    turn = b.op("mul", share, b.const(TURN))
    return b.op("cos", turn), b.op("sin", turn)
