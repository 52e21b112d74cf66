"""The soft disc that stands in for a look whose pictures or lines are not here."""

from __future__ import annotations

import numpy as np

from ..kernels.items import DISC
from .layers import Layer

KIND = DISC


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each disc's length and width, metres."""
    size = layer.column("size") / 2
    return size, size


def traits(layer: Layer, out: np.ndarray) -> None:
    """Nothing: it is soft from its middle on."""
