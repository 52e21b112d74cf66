"""A field of vectors on a grid, read between its points."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kernels.trilinear import trilinear_into
from .path import Path

F64 = np.float64


@dataclass(frozen=True)
class VectorField:
    """origin: where its first point is, (3,) metres; spacing: between points along x, y and z, (3,) metres, above 0;
    values: (Z, Y, X, 3) float32, x runs fastest."""

    origin: np.ndarray
    spacing: np.ndarray
    values: np.ndarray

    @property
    def count(self) -> tuple[int, int, int]:
        """How many points along x, y and z."""
        z, y, x, _ = self.values.shape
        return x, y, z

    @property
    def bounds(self) -> tuple[np.ndarray, np.ndarray]:
        return self.origin, self.origin + self.spacing * (np.array(self.count) - 1)

    @cached_property
    def outline(self) -> Path:
        """Its box as one line."""
        low, high = self.bounds
        corners = (
            (0, 0, 0),
            (1, 0, 0),
            (1, 1, 0),
            (0, 1, 0),
            (0, 0, 0),
            (0, 0, 1),
            (1, 0, 1),
            (1, 0, 0),
            (1, 0, 1),
            (1, 1, 1),
            (1, 1, 0),
            (1, 1, 1),
            (0, 1, 1),
            (0, 1, 0),
            (0, 1, 1),
            (0, 0, 1),
        )
        return Path(low + np.array(corners) * (high - low))

    @cached_property
    def strongest(self) -> float:
        return float(np.sqrt(np.einsum("zyxk,zyxk->zyx", self.values, self.values, dtype=F64).max(initial=0)))

    def at(self, points: np.ndarray, beyond: bool = False) -> np.ndarray:
        """Return the vectors at points, (n, 3): linear between the eight about each. Outside there is nothing; beyond:
        what is at its side."""
        out = np.empty((len(points), 3))
        index = (np.asarray(points, F64) - self.origin) / self.spacing
        trilinear_into(self.values, np.ascontiguousarray(index), beyond, out)
        return out
