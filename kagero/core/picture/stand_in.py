"""The soft disc drawn in place of a look whose pictures or lines are missing."""

from __future__ import annotations

import numpy as np

from ..kernels.items import DISC
from .layers import Layer

KIND = DISC


def half_sizes(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each disc's length and width, metres."""
    size = layer.column("size") / 2
    return size, size


def traits(layer: Layer, out: np.ndarray) -> None:
    """Write nothing: it is soft from its centre on."""
