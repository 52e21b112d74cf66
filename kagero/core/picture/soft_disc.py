"""Discs as they are painted (client/src/stage/looks/soft_disc.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import DISC, HARD
from .layers import Layer

KIND = DISC


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each disc's length and half of its width, metres."""
    size = layer.column("size") / 2
    return size, size / np.maximum(layer.column("stretch"), 1)


def traits(layer: Layer, out: np.ndarray) -> None:
    out[:, HARD] = np.clip(layer.column("hardness"), 0, 1)
