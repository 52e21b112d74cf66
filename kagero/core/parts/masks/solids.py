"""Distances to the edges of solids with flat ends, for masks that stand somewhere."""

from __future__ import annotations

from ...formula import Values
from ...program import Builder
from ...rows.reader import weighted
from .base import Spot


def own_space(at: Spot, uid: str) -> tuple[Values, Values, Values]:
    """Return how far the point is from where a mask stands: in the world, and along its own axes, metres; and its
    scales along these."""
    b, m = at.builder, at.matrix(uid)
    gap = tuple(b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(at.point))
    scales = tuple(b.op("max", b.op("length", m[k], m[4 + k], m[8 + k]), b.const(1e-6)) for k in range(3))
    across = tuple(b.op("div", weighted(b, gap, (m[k], m[4 + k], m[8 + k])), scales[k]) for k in range(3))
    return gap, across, scales


def beyond_half(b: Builder, size: int, scale: int, across: int) -> int:
    """Return how far beyond half a size a point is along an axis, metres; negative within."""
    half = b.op("mul", b.op("mul", b.op("abs", size), scale), b.const(0.5))
    return b.op("sub", b.op("abs", across), half)


def to_solid(b: Builder, out: list[int]) -> int:
    """Return the distance to a solid from how far a point is beyond each of its sides: outside by Pythagoras, inside to
    the nearest."""
    zero = b.const(0)
    beyond = [b.op("max", x, zero) for x in out] + [zero] * (3 - len(out))
    most = out[0]
    for x in out[1:]:
        most = b.op("max", most, x)
    return b.op("add", b.op("length", *beyond), b.op("min", most, zero))
