"""Discs as they are painted (client/src/stage/looks/soft_disc.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import DISC, HARD
from .layers import Layer

KIND = DISC
# Pixels: no edge is steeper. A disc that is soft within it gives the same light wherever it lies between pixels: the spectrum of (1 - q²)²,
# 48 J3(k) / k³, is nought at one cycle a pixel (second zero of the Bessel function J3: Abramowitz and Stegun, table 9.5).
EDGE = 9.76102 / (2 * np.pi)


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each disc's length and half of its width, metres."""
    size = layer.column("size") / 2
    return size, size / np.maximum(layer.column("stretch"), 1)


def light_of(hardness: np.ndarray) -> np.ndarray:
    """Return the light of a disc that is full up to a share of its half and fades as (1 - q²)² from there, as a share of a disc full to its edge."""
    soft = 1 - hardness
    return hardness**2 + 2 * soft * (hardness * 8 / 15 + soft / 6)


def drawn(
    along: np.ndarray, across: np.ndarray, hardness: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return halves of the length and width, hardness and share of the opacity that a disc is drawn with, so that its edge is as wide as pixels
    can show and it gives the light that it has, however small it is. along, across: halves, pixels."""
    light = light_of(hardness)
    least, shift = EDGE**2 / 3, EDGE * 8 / 15
    steep = (1 - hardness) * across < EDGE
    wide = np.where(steep, EDGE + np.sqrt(shift**2 + np.maximum(across**2 * light - least, 0)) - shift, across)
    full = np.where(steep, 1 - EDGE / np.maximum(wide, EDGE), hardness)
    given = light_of(full)
    long = np.maximum(np.where(steep, along * np.sqrt(light / given), along), EDGE)
    return long, wide, full, np.minimum(along * across * light / (long * wide * given), 1)


def traits(layer: Layer, out: np.ndarray) -> None:
    out[:, HARD] = np.clip(layer.column("hardness"), 0, 1)
