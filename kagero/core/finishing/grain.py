"""Grain: noise on a lattice of its own, hashed from place, frame and seed, so that every picture of a frame has the same."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..kernels.drawing import banded
from ..kernels.finishing import grains
from .shot import RowValues, Shot

F32 = np.float32


def noise(left: int, top: int, columns: int, rows: int, size: float, z: int) -> np.ndarray:
    """Return noise of mean 0 and variance near 1 at pixels, (rows, columns) float32, the first at (left, top): on a lattice `size` pixels wide."""
    values = np.empty((rows, columns), F32)
    banded(lambda first, last: _grains(values, left, top, size, z & 0xFFFFFFFF, first, last), rows, True)
    return values


_grains: Any = grains


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    rows, columns = light.shape[:2]
    size, amount = max(own.number("size") * shot.scale, 1.0), own.number("amount")
    image, drawn = light.copy(), [_drawn(part, shot, c) for c in range(3)]
    varies = {z: noise(shot.left, shot.top, columns, rows, size, z) for z in dict.fromkeys(drawn)}
    for c, z in enumerate(drawn):
        colour = light[..., c]
        image[..., c] = np.maximum(colour + np.sqrt(np.maximum(colour, 0)) * (varies[z] * F32(amount)), 0)
    return image


def _drawn(part: Any, shot: Shot, channel: int) -> int:
    """Return the number that a channel's noise is hashed with."""
    return int((shot.seed * 7919 + shot.frame * 4 + (channel if part.coloured else 0)) & 0xFFFFFFFF)


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {
        "amount": own.number("amount"),
        "size": own.number("size"),
        "drawn": [_drawn(part, shot, c) for c in range(3)],
    }
