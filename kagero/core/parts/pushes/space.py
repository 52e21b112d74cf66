"""The space that a push stands in: the world, or a prop's with all that it follows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np

from ...formula import Values
from ...program import Builder, Group, Slot
from ...rows.reader import weighted
from ...rows.slots import DocumentView, OfProp, table_of
from ...rows.view import Owner, find_thing


class Space:
    """A space at a moment. prop: whose uid, None for the world; time: clip seconds, a value."""

    def __init__(self, builder: Builder, prop: str | None, time: int):
        self.builder, self.prop, self.time = builder, prop, time

    @cached_property
    def _matrix(self) -> Values:
        assert self.prop is not None
        return self.builder.multi("prop_matrix", self.time, attrs=(OfProp(self.prop),))

    @cached_property
    def _inverse(self) -> list[Values]:
        """The rows of the inverse of turn and scale: the cofactors over the determinant."""
        b, m = self.builder, self._matrix
        rows = [m[0:3], m[4:7], m[8:11]]

        def minor(i: int, j: int) -> int:
            (p, q), (r, s) = (
                [row[k] for k in ((j + 1) % 3, (j + 2) % 3)] for row in (rows[(i + 1) % 3], rows[(i + 2) % 3])
            )
            return b.op("sub", b.op("mul", p, s), b.op("mul", q, r))

        cofactors = [[minor(i, j) for j in range(3)] for i in range(3)]
        whole = weighted(b, rows[0], tuple(cofactors[0]))
        some = b.op("select", whole, whole, b.const(1))
        return [tuple(b.op("div", cofactors[i][j], some) for i in range(3)) for j in range(3)]

    def point(self, point: Values) -> Values:
        """Return a point of the space in the world, metres."""
        if self.prop is None:
            return point
        m = self._matrix
        return tuple(
            self.builder.op("add", weighted(self.builder, point, m[4 * i : 4 * i + 3]), m[4 * i + 3]) for i in range(3)
        )

    def local(self, point: Values) -> Values:
        """Return a point of the world in the space."""
        if self.prop is None:
            return point
        b, m = self.builder, self._matrix
        gap = tuple(b.op("sub", x, m[4 * i + 3]) for i, x in enumerate(point))
        return tuple(weighted(b, gap, row) for row in self._inverse)

    def to_world(self, direction: Values) -> Values:
        """Return a direction of the space in the world, of length 1 (nought where it has none)."""
        b = self.builder
        if self.prop is not None:
            m = self._matrix
            direction = tuple(weighted(b, direction, m[4 * i : 4 * i + 3]) for i in range(3))
        length = b.op("max", b.op("length", *direction), b.const(1e-12))
        return tuple(b.op("div", d, length) for d in direction)

    def turned(self, vector: Values) -> Values:
        """Return a vector of the space turned as the space is, as long as it was: each of its axes by its own
        length."""
        if self.prop is None:
            return vector
        b, m = self.builder, self._matrix
        axes = [
            self.builder.op("max", b.op("length", *(m[4 * i + j] for i in range(3))), b.const(1e-12)) for j in range(3)
        ]
        scaled = tuple(b.op("div", v, axis) for v, axis in zip(vector, axes, strict=True))
        return tuple(weighted(b, scaled, m[4 * i : 4 * i + 3]) for i in range(3))


@dataclass(frozen=True)
class PushCurve(Slot[DocumentView]):
    """The curve of a push over its distance, as a table."""

    owner: Owner
    push: str
    group: ClassVar[Group] = "curves"

    def read(self, document: DocumentView) -> np.ndarray:
        return table_of(find_thing(document.thing(self.owner).forces, self.push).curve.keys)
