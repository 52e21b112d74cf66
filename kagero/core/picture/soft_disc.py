"""Painting of discs (client/src/stage/looks/soft_disc.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import DISC, HARD
from .layers import Layer

KIND = DISC
# Pixels: no edge is steeper. A disc that is soft within it gives the same light wherever it lies between pixels: the
# spectrum of (1 - q²)²,
# 48 J3(k) / k³, is nought at one cycle a pixel (second zero of the Bessel function J3: Abramowitz and Stegun, table
# 9.5).
EDGE = 9.76102 / (2 * np.pi)


def half_sizes(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each disc's length and width, metres."""
    size = layer.column("size") / 2
    return size, size / np.maximum(layer.column("stretch"), 1)


def light_of_hardness(hardness: np.ndarray) -> np.ndarray:
    """Return the total light of a disc that is full up to a share of its radius and then fades as (1 - q²)², relative
    to a full disc."""
    soft = 1 - hardness
    return hardness**2 + 2 * soft * (hardness * 8 / 15 + soft / 6)


def antialiased(
    along: np.ndarray, across: np.ndarray, hardness: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return half length, half width, hardness and opacity factor with which a disc is drawn, so that its edge is as
    wide as pixels can show and its total light is kept, however small it is. along, across: halves in pixels."""
    light = light_of_hardness(hardness)
    least, shift = EDGE**2 / 3, EDGE * 8 / 15
    steep = (1 - hardness) * across < EDGE
    wide = np.where(steep, EDGE + np.sqrt(shift**2 + np.maximum(across**2 * light - least, 0)) - shift, across)
    full = np.where(steep, 1 - EDGE / np.maximum(wide, EDGE), hardness)
    given = light_of_hardness(full)
    long = np.maximum(np.where(steep, along * np.sqrt(light / given), along), EDGE)
    return long, wide, full, np.minimum(along * across * light / (long * wide * given), 1)


def traits(layer: Layer, out: np.ndarray) -> None:
    out[:, HARD] = np.clip(layer.column("hardness"), 0, 1)
