"""Grain: noise on a lattice, hashed from position, frame and seed, so that a frame always has the same."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..kernels.drawing import paint_in_bands
from ..kernels.finishing import grains
from .shot import RowValues, Shot

F32 = np.float32


def noise(left: int, top: int, columns: int, rows: int, size: float, z: int) -> np.ndarray:
    """Return noise of mean 0 and variance near 1, (rows, columns) float32, whose first pixel is at (left, top), on a
    lattice `size` pixels wide."""
    values = np.empty((rows, columns), F32)
    paint_in_bands(lambda first, last: _grains(values, left, top, size, z & 0xFFFFFFFF, first, last), rows, True)
    return values


_grains: Any = grains


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    rows, columns = light.shape[:2]
    size, amount = max(own.number("size") * shot.scale, 1.0), own.number("amount")
    image, drawn = light.copy(), [_hash_seed(part, shot, c) for c in range(3)]
    varies = {z: noise(shot.left, shot.top, columns, rows, size, z) for z in dict.fromkeys(drawn)}
    for c, z in enumerate(drawn):
        colour = light[..., c]
        image[..., c] = np.maximum(colour + np.sqrt(np.maximum(colour, 0)) * (varies[z] * F32(amount)), 0)
    return image


def _hash_seed(part: Any, shot: Shot, channel: int) -> int:
    """Return the seed of a channel's noise."""
    return int((shot.seed * 7919 + shot.frame * 4 + (channel if part.coloured else 0)) & 0xFFFFFFFF)


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {
        "amount": own.number("amount"),
        "size": own.number("size"),
        "drawn": [_hash_seed(part, shot, c) for c in range(3)],
    }
