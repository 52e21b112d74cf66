"""A shaping by a lattice."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from math import comb
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ...formula import Values
from ...program import Group, Slot
from ...rows.example import Example
from ...rows.model import VALUE, Driven, Guide, Vector
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.slots import DocumentView
from ...rows.units import PERCENT
from ...rows.view import Owner, find_thing
from .base import BoxedShaping

Count = Annotated[int, Field(ge=2, le=4)]
PROBED = 9  # places a side at which a lattice is looked at for folds


@dataclass(frozen=True)
class LatticeOffset(Slot[DocumentView]):
    """By how much a point of a lattice is moved along one of the box's axes, as a share of the box's size."""

    owner: Owner
    shaping: str
    point: int
    axis: int
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return float(find_thing(document.thing(self.owner).shaping, self.shaping).offsets[self.point][self.axis])


class Lattice(BoxedShaping):
    """What stands in the box follows the points of a lattice, that stand evenly in it until they are moved. Beyond the
    box it follows what stands at its edge. Source: Sederberg and Parry, "Free-form deformation of solid geometric
    models", SIGGRAPH 1986: Bernstein polynomials."""

    label = "Lattice"
    help = "What stands in the box follows the points of a lattice that are moved."
    guides = (Guide("lattice", at="middle", size="size", turn="turn", moved=True),)
    row_order = ("amount",)
    example = Example(
        fields={
            **BoxedShaping.example.fields,
            "offsets": [(0.6 * (k // 4), 0.0, 0.5 * (k % 2)) for k in range(8)],
        }
    )

    kind: Literal["lattice"] = "lattice"
    counts: Annotated[
        tuple[Count, Count, Count], Field(description="How many points it has along x, y and z of the box.")
    ] = (2, 2, 2)
    offsets: Annotated[
        list[Vector],
        VALUE,
        Field(max_length=64, description="By how much each is moved, in sizes of the box: x goes slowest, z fastest."),
    ] = [(0.0, 0.0, 0.0)] * 8
    amount: Annotated[
        NumberRow, Driven("Lattice", PERCENT, -10, 10, 1, 1.0, "How much it follows: 100 % all the way.", always=True)
    ] = number(1)

    @model_validator(mode="after")
    def _of_its_size(self) -> Lattice:
        if len(self.offsets) != int(np.prod(self.counts)):
            raise ValueError(
                f"a lattice of {' by '.join(map(str, self.counts))} points has {int(np.prod(self.counts))} offsets, "
                f"not {len(self.offsets)}"
            )
        return self

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "counts": (2, 2, 2), "offsets": [(0.0, 0.0, 0.0)] * 8}

    def moves(self, at: Reader, place: Values) -> Values:
        b = at.builder
        axes = [self._share(at, place, k) for k in range(3)]
        sizes = self.row(at, "size")
        weights = [
            [_bernstein(b, axis, i, count - 1) for i in range(count)]
            for axis, count in zip(axes, self.counts, strict=True)
        ]
        amount, moved = self.how_much(at), [b.const(0)] * 3
        for i in range(self.counts[0]):
            for j in range(self.counts[1]):
                beside = b.op("mul", weights[0][i], weights[1][j])
                for k in range(self.counts[2]):
                    weight = b.op("mul", beside, weights[2][k])
                    point = (i * self.counts[1] + j) * self.counts[2] + k
                    for n in range(3):
                        offset = b.param(LatticeOffset(at.owner, self.uid, point, n))
                        moved[n] = b.op("add", moved[n], b.op("mul", weight, offset))
        x, y, z = (b.op("mul", b.op("mul", m, size), amount) for m, size in zip(moved, sizes, strict=True))
        return self.of_axes(at, x, y, z)

    def _share(self, at: Reader, place: Values, axis: int) -> int:
        """Return how far along one of the box's axes a place is, 0 to 1, held at its edges."""
        b, box = at.builder, self.boxed(at, place)
        gap = (box.along, box.across, box.up)[(axis - "xyz".index(self.axis)) % 3]
        size = b.op("max", self.row(at, "size")[axis], b.const(1e-6))
        return b.op("clamp", b.op("add", b.op("div", gap, size), b.const(0.5)))

    def of_axes(self, at: Reader, x: int, y: int, z: int) -> Values:
        """Return a displacement along the box's x, y and z as one in the world."""
        first = "xyz".index(self.axis)
        return self.in_world(at, *((x, y, z)[(first + k) % 3] for k in range(3)))

    def unused(self) -> frozenset[str]:
        return super().unused() | {"axis"}

    def forms(self) -> Iterator[tuple[str, bool, dict[str, Any]]]:
        for count in (2, 3, 4):
            counts = (count, count, count)
            yield (
                f"{count} × {count} × {count}",
                self.counts == counts,
                {"counts": counts, "offsets": self.offsets_of(counts)},
            )

    def offsets_of(self, counts: tuple[int, int, int]) -> list[tuple[float, float, float]]:
        """Return the offsets of a lattice of so many points that moves what stands at those points as this does: with
        more points, everything."""
        offsets = np.asarray(self.offsets, np.float64).reshape(*self.counts, 3)
        for axis, (old, new) in enumerate(zip(self.counts, counts, strict=True)):
            rest = np.linspace(0, 1, new)
            there = np.moveaxis(np.tensordot(_basis(rest, old), offsets, axes=(1, axis)), 0, axis)
            offsets = np.moveaxis(np.tensordot(np.linalg.inv(_basis(rest, new)), there, axes=(1, axis)), 0, axis)
        return [(float(x), float(y), float(z)) for x, y, z in offsets.reshape(-1, 3).round(9)]

    def guided(self) -> dict[str, Any]:
        ways = (np.linspace(-0.5, 0.5, count) for count in self.counts)
        rest = np.stack(np.meshgrid(*ways, indexing="ij"), -1).reshape(-1, 3)
        points = (rest + np.asarray(self.offsets, np.float64)).tolist()
        return {"counts": self.counts, "points": tuple((float(x), float(y), float(z)) for x, y, z in points)}

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        if self.folded():
            return "offsets", "is folded over itself: what is inside comes out turned over", "Move its points apart."
        return super().unmet_need(effect)

    def folded(self) -> bool:
        """Return whether it turns space inside out somewhere, as its points stand and its rows have their bases."""
        amount = float(self.amount.base) if isinstance(self.amount.base, (int, float)) else 1.0
        return _folded(self.counts, tuple(map(tuple, self.offsets)), amount)


@lru_cache(64)
def _folded(counts: tuple[int, int, int], moved: tuple[tuple[float, ...], ...], amount: float) -> bool:
    side = np.linspace(0, 1, PROBED)
    grid = np.stack(np.meshgrid(side, side, side, indexing="ij"), -1).reshape(-1, 3)
    offsets = np.asarray(moved, np.float64).reshape(*counts, 3)

    def basis(x: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
        n, value = count - 1, _basis(x, count)
        lower = [
            comb(n - 1, i) * x**i * (1 - x) ** (n - 1 - i) if 0 <= i < n else np.zeros_like(x) for i in range(-1, n + 1)
        ]
        return value, np.stack([n * (lower[i] - lower[i + 1]) for i in range(count)], -1)

    (u, du), (v, dv), (w, dw) = (basis(grid[:, k], counts[k]) for k in range(3))
    columns = [np.einsum("ni,nj,nk,ijkd->nd", *each, offsets) for each in ((du, v, w), (u, dv, w), (u, v, dw))]
    return bool((np.linalg.det(np.eye(3) + amount * np.stack(columns, -1)) <= 0).any())


def _basis(x: np.ndarray, count: int) -> np.ndarray:
    """Return the Bernstein polynomials of degree count - 1 at places x (k,), (k, count)."""
    n = count - 1
    return np.stack([comb(n, i) * x**i * (1 - x) ** (n - i) for i in range(count)], -1)


def _bernstein(b: Any, x: int, i: int, n: int) -> int:
    """Return a Bernstein polynomial of degree n at x."""
    basis, rest = b.const(float(comb(n, i))), b.op("sub", b.const(1), x)
    for _ in range(i):
        basis = b.op("mul", basis, x)
    for _ in range(n - i):
        basis = b.op("mul", basis, rest)
    return int(basis)
