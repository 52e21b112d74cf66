"""Pictures made from numbers: noise, cells, checks, gradients. All but the gradients come round at their edges, so that
they tile.

Noise: `kernels.tiling`. Cells: S. Worley, "A cellular texture basis function", SIGGRAPH 1996.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..kernels.noise import PERMUTATION
from ..kernels.tiling import tiling_noise
from .picture import Picture

F32 = np.float32


def worley(
    x: np.ndarray, y: np.ndarray, z: float, period: int, jitter: float = 1.0, seed: int = 0
) -> tuple[np.ndarray, np.ndarray]:
    """Return how far the nearest and the second nearest feature point are, in lattice cells; it comes round every
    `period`. The points wander as z goes on, and come round after 1."""
    ix, iy = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
    nearest, second = np.full(x.shape, 9.0, F32), np.full(x.shape, 9.0, F32)
    for a in (-1, 0, 1):
        for b in (-1, 0, 1):
            cx, cy = (ix + a) % period, (iy + b) % period
            h = PERMUTATION[(PERMUTATION[(cx + seed * 3) % 256].astype(np.int64) + cy) % 256].astype(np.int64)
            k = PERMUTATION[(h + 71) % 256]
            turn = 2 * np.pi * (z + h / 256)
            px = ix + a + 0.5 + jitter * (0.5 * (k / 255.0 - 0.5) + 0.25 * np.cos(turn))
            py = iy + b + 0.5 + jitter * (0.5 * (PERMUTATION[(h + 151) % 256] / 255.0 - 0.5) + 0.25 * np.sin(turn))
            away = np.hypot(px - x, py - y).astype(F32)
            second = np.minimum(second, np.maximum(nearest, away))
            nearest = np.minimum(nearest, away)
    return nearest, second


@dataclass(frozen=True)
class PatternSettings:
    """What a pattern is made from. count: how many lie side by side; evolution: in turns; roughness: 0..1; seed."""

    count: int
    evolution: float
    roughness: float
    seed: int


def _noise(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    return 0.5 + 0.75 * tiling_noise(u * of.count, v * of.count, of.evolution * 4, of.count, 5, of.roughness, of.seed)


def _cells(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    nearest, _ = worley(u * of.count, v * of.count, of.evolution, of.count, of.roughness * 2, of.seed)
    return 1 - nearest


def _cracks(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    nearest, second = worley(u * of.count, v * of.count, of.evolution, of.count, of.roughness * 2, of.seed)
    return 1 - 2 * (second - nearest)


def _checks(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    wave = np.sin(np.pi * (2 * u * of.count - 2 * of.evolution)) * np.sin(2 * np.pi * v * of.count)
    return 0.5 + 4 * (1 - of.roughness) ** 2 * wave + 0.5 * wave


def _stripes(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    return 0.5 + 0.5 * np.sin(2 * np.pi * (u * of.count - of.evolution))


def _gradient(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    return v * of.count - of.evolution - np.floor(np.clip(v * of.count - of.evolution - 1e-6, 0, None))


def _glow(u: np.ndarray, v: np.ndarray, of: PatternSettings) -> np.ndarray:
    away = np.hypot(2 * u - 1, 2 * v - 1)
    return np.clip(1 - away, 0, 1) ** (1 + of.roughness)


PatternName = Literal["noise", "cells", "cracks", "checks", "stripes", "gradient", "glow"]
PATTERNS: dict[str, tuple[str, Callable[[np.ndarray, np.ndarray, PatternSettings], np.ndarray]]] = {
    "noise": ("noise", _noise),
    "cells": ("cells", _cells),
    "cracks": ("cracks", _cracks),
    "checks": ("checks", _checks),
    "stripes": ("stripes", _stripes),
    "gradient": ("gradient", _gradient),
    "glow": ("glow", _glow),
}


def pattern(name: str, side: int, of: PatternSettings, contrast: float = 1.0, level: float = 0.0) -> Picture:
    """Return a pattern as a picture of `side` pixels a side: grey in linear light, 0 to 1. contrast: about the middle;
    level: added."""
    at = (np.arange(side, dtype=F32) + F32(0.5)) / F32(side)
    u, v = np.meshgrid(at, 1 - at)
    value = np.clip((PATTERNS[name][1](u, v, of) - 0.5) * contrast + 0.5 + level, 0, 1)
    return Picture(np.stack([value, value, value, np.ones_like(value)], axis=2).astype(F32))
