"""Grain: noise on a lattice of its own, hashed from place, frame and seed, so that every picture of a frame has the same."""

from __future__ import annotations

from typing import Any

import numpy as np

from .shot import Own, Shot

F32 = np.float32
# four uniform numbers summed have a variance of a third: so scaled it is one (Irwin and Hall)
SPREAD = float(np.sqrt(3.0))


def hashed(x: np.ndarray, y: np.ndarray, z: int) -> np.ndarray:
    """Return 32 bits of a lattice place, (rows, columns) uint32: PCG's output function over a mix of three numbers (Jarzynski and Olano,
    "Hash functions for GPU rendering", JCGT 9, 2020: `pcg`)."""
    with np.errstate(over="ignore"):

        def pcg(v: np.ndarray) -> np.ndarray:
            state = v * np.uint32(747796405) + np.uint32(2891336453)
            word = ((state >> ((state >> np.uint32(28)) + np.uint32(4))) ^ state) * np.uint32(277803737)
            return (word >> np.uint32(22)) ^ word

        return pcg(x + pcg(y + pcg(np.full(1, z & 0xFFFFFFFF, np.uint32))))


def noise(rows: np.ndarray, columns: np.ndarray, size: float, z: int) -> np.ndarray:
    """Return noise of mean 0 and variance near 1 at pixels: on a lattice `size` pixels wide, smooth between its places. rows, columns: (r,), (c,)."""
    x, y = (columns + 0.5) / size, (rows + 0.5) / size
    x0, y0 = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
    fx, fy = (x - x0)[None, :], (y - y0)[:, None]

    def at(dx: int, dy: int) -> np.ndarray:
        bits = hashed((x0 + dx).astype(np.uint32)[None, :], (y0 + dy).astype(np.uint32)[:, None], z)
        parts = [((bits >> np.uint32(8 * k)) & np.uint32(255)).astype(np.float64) / 255 for k in range(4)]
        return (parts[0] + parts[1] + parts[2] + parts[3] - 2) * SPREAD

    if size <= 1:
        return at(0, 0)
    a, b, c, d = (1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy
    mixed = a * at(0, 0) + b * at(1, 0) + c * at(0, 1) + d * at(1, 1)
    return mixed / np.sqrt(a * a + b * b + c * c + d * d)  # between places as lively as on them


def finished(light: np.ndarray, own: Own, part: Any, shot: Shot) -> np.ndarray:
    rows, columns = np.arange(light.shape[0]) + shot.top, np.arange(light.shape[1]) + shot.left
    size, amount = own.number("size") * shot.scale, own.number("amount")
    colour = light[..., :3]
    made = light.copy()
    for c in range(3):
        varies = (noise(rows, columns, max(size, 1.0), _drawn(part, shot, c)) * amount).astype(F32)
        made[..., c] = np.maximum(colour[..., c] + np.sqrt(np.maximum(colour[..., c], 0)) * varies, 0)
    return made


def _drawn(part: Any, shot: Shot, channel: int) -> int:
    """Return the number that a channel's noise is hashed with."""
    return int((shot.seed * 7919 + shot.frame * 4 + (channel if part.coloured else 0)) & 0xFFFFFFFF)


def told(own: Own, part: Any, shot: Shot) -> dict[str, Any]:
    return {"amount": own.number("amount"), "size": own.number("size"), "drawn": [_drawn(part, shot, c) for c in range(3)]}
