"""Noise that tiles: improved gradient noise whose lattice is taken modulo a period.

K. Perlin, "Improving noise", SIGGRAPH 2002, with its permutation and gradients (`noise`).
"""

from __future__ import annotations

import math

import numpy as np

from .compiled import kernel
from .noise import GRADIENTS, PERMUTATION


def tiling_noise(
    x: np.ndarray, y: np.ndarray, z: float, period: int, octaves: int = 1, roughness: float = 0.5, seed: int = 0
) -> np.ndarray:
    """Return octaves of noise at points of any shape, float32, each twice the frequency and `roughness` times the
    strength of the one before, divided by the sum of the strengths.

    It repeats every `period` lattice cells (a whole number) in x and y, not in z.
    """
    shape = np.shape(x)
    a, b = (np.ascontiguousarray(each, np.float32).ravel() for each in (x, y))
    out = np.empty(a.size, np.float32)
    _octaves(a, b, np.float32(z), period, octaves, np.float32(roughness), seed, out)
    return out.reshape(shape)


@kernel(_nrt=False)
def _noise(x, y, z, period, seed):
    fx, fy, fz = math.floor(x), math.floor(y), math.floor(z)
    X, Y, Z = int(fx), int(fy), int(fz) + seed * 7
    x, y, z = x - np.float32(fx), y - np.float32(fy), z - np.float32(fz)
    u = x * x * x * (x * (x * np.float32(6) - np.float32(15)) + np.float32(10))
    v = y * y * y * (y * (y * np.float32(6) - np.float32(15)) + np.float32(10))
    w = z * z * z * (z * (z * np.float32(6) - np.float32(15)) + np.float32(10))
    total = np.float32(0)
    for a in range(2):
        for b in range(2):
            for c in range(2):
                h = np.int64(PERMUTATION[((X + a) % period) & 255])
                h = np.int64(PERMUTATION[(h + (Y + b) % period) & 255])
                g = GRADIENTS[PERMUTATION[(h + Z + c) & 255] & 15]
                dot = g[0] * (x - np.float32(a)) + g[1] * (y - np.float32(b)) + g[2] * (z - np.float32(c))
                weight = (
                    (u if a else np.float32(1) - u) * (v if b else np.float32(1) - v) * (w if c else np.float32(1) - w)
                )
                total += weight * dot
    return total


@kernel("void(float32[::1], float32[::1], float32, int64, int64, float32, int64, float32[::1])")
def _octaves(x, y, z, period, octaves, roughness, seed, out):
    every, strength = np.float32(0), np.float32(1)
    for _ in range(octaves):
        every += strength
        strength *= roughness
    for i in range(x.size):
        total, strength, scale = np.float32(0), np.float32(1) / every, np.float32(1)
        for octave in range(octaves):
            total += strength * _noise(x[i] * scale, y[i] * scale, z * scale, period << octave, seed + octave)
            strength *= roughness
            scale *= np.float32(2)
        out[i] = total
