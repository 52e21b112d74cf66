"""Improved noise written out as in K. Perlin, "Improving noise", SIGGRAPH 2002: fade, lerp and the bit-twiddling grad.

The permutation is taken from the kernel (it is Perlin's own table); a check of the kernel's table is that it is a
permutation and gives the published value.
"""

from __future__ import annotations

import math

from kagero.core.kernels.noise import PERMUTATION

P = [int(p) for p in PERMUTATION]


def fade(t: float) -> float:
    return t * t * t * (t * (t * 6 - 15) + 10)


def lerp(t: float, a: float, b: float) -> float:
    return a + t * (b - a)


def grad(hash: int, x: float, y: float, z: float) -> float:
    h = hash & 15
    u = x if h < 8 else y
    v = y if h < 4 else (x if h in (12, 14) else z)
    return (u if h & 1 == 0 else -u) + (v if h & 2 == 0 else -v)


def noise(x: float, y: float, z: float) -> float:
    X, Y, Z = (math.floor(c) & 255 for c in (x, y, z))
    x, y, z = x - math.floor(x), y - math.floor(y), z - math.floor(z)
    u, v, w = fade(x), fade(y), fade(z)
    A = P[X] + Y
    AA, AB = P[A & 255] + Z, P[(A + 1) & 255] + Z
    B = P[X + 1] + Y
    BA, BB = P[B & 255] + Z, P[(B + 1) & 255] + Z
    at = lambda i: P[i & 255]
    return lerp(
        w,
        lerp(
            v,
            lerp(u, grad(at(AA), x, y, z), grad(at(BA), x - 1, y, z)),
            lerp(u, grad(at(AB), x, y - 1, z), grad(at(BB), x - 1, y - 1, z)),
        ),
        lerp(
            v,
            lerp(u, grad(at(AA + 1), x, y, z - 1), grad(at(BA + 1), x - 1, y, z - 1)),
            lerp(u, grad(at(AB + 1), x, y - 1, z - 1), grad(at(BB + 1), x - 1, y - 1, z - 1)),
        ),
    )
