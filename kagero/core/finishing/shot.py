"""Facts about the picture that is finished."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

Act = Callable[[np.ndarray], np.ndarray]


@dataclass(frozen=True)
class Shot:
    """width, height: of the whole picture, pixels. left, top: where the finished region begins. scale: pixels of it for
    each pixel of the frame at full size. frame: its number. seed: the clip's."""

    width: int
    height: int
    left: int = 0
    top: int = 0
    scale: float = 1.0
    frame: int = 0
    seed: int = 1


@dataclass(frozen=True)
class RowValues:
    """The values of an item's rows at a time, by name."""

    values: dict[str, float]

    def number(self, name: str) -> float:
        return self.values[f"{name}.0"]

    def colour(self, name: str) -> np.ndarray:
        """Return three numbers, (3,) float32."""
        return np.array([self.values[f"{name}.{i}"] for i in range(3)], np.float32)
