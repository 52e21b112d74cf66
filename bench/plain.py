"""The bench's reference effect as somebody would write it in plain NumPy: whole arrays, temporaries, no blocks, no
compiler."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator

from kagero.core.kernels.noise import GRADIENTS, PERMUTATION, lattice_offsets

P = PERMUTATION.astype(np.intp)


def noise_slopes(x: np.ndarray, y: np.ndarray, z: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the partial derivatives of improved noise (Perlin 2002), float32, shape as given."""
    X, Y, Z = (np.floor(c).astype(np.intp) & 255 for c in (x, y, z))
    x, y, z = x - np.floor(x), y - np.floor(y), z - np.floor(z)
    fade = lambda t: t * t * t * (t * (t * 6 - 15) + 10)
    slope = lambda t: 30 * t * t * (t * (t - 2) + 1)
    u, v, w = fade(x), fade(y), fade(z)
    du, dv, dw = slope(x), slope(y), slope(z)
    A, B = P[X] + Y, P[X + 1] + Y
    corners = []
    for dz in (0, 1):
        for dy in (0, 1):
            for dx, start in ((0, A), (1, B)):
                h = P[(P[(start + dy) & 255] + Z + dz) & 255] & 15
                g = GRADIENTS[h]
                corners.append((g, g[:, 0] * (x - dx) + g[:, 1] * (y - dy) + g[:, 2] * (z - dz)))
    g, n = [c[0] for c in corners], [c[1] for c in corners]
    mix = lambda a, b, t: a + (b - a) * t
    blend = lambda c: mix(
        mix(mix(c[0], c[1], u), mix(c[2], c[3], u), v), mix(mix(c[4], c[5], u), mix(c[6], c[7], u), v), w
    )
    sx = du * mix(mix(n[1] - n[0], n[3] - n[2], v), mix(n[5] - n[4], n[7] - n[6], v), w) + blend([c[:, 0] for c in g])
    sy = dv * mix(mix(n[2] - n[0], n[3] - n[1], u), mix(n[6] - n[4], n[7] - n[5], u), w) + blend([c[:, 1] for c in g])
    sz = dw * mix(mix(n[4] - n[0], n[5] - n[1], u), mix(n[6] - n[2], n[7] - n[3], u), v) + blend([c[:, 2] for c in g])
    return sx, sy, sz


class PlainStep:
    """One step of bench.effects.reference: lift over life, drag, curl noise over life."""

    def __init__(self, seed: int):
        self.offset = lattice_offsets(seed)
        self.lift = PchipInterpolator([0, 0.5, 1], [1, 0.8, 0.1])
        self.swirl = PchipInterpolator([0, 0.5, 1], [0, 1, 1])

    def __call__(self, s: dict[str, np.ndarray], time: float, dt: float) -> dict[str, np.ndarray]:
        life = np.clip(s["age"] / s["lifespan"], 0, 1)
        lift = (0.8 * self.lift(life)).astype(np.float32)
        swirl = (1.5 * self.swirl(life)).astype(np.float32)
        o, slide = self.offset, np.float32((time - dt / 2) * 0.25 / 0.5)
        x, y, z = ((s[f"position.{a}"] + s[f"velocity.{a}"] * np.float32(dt / 2)) / np.float32(0.5) for a in "xyz")
        _, ay, az = noise_slopes(x + o[0] + slide, y + o[1], z + o[2])
        bx, _, bz = noise_slopes(x + o[3], y + o[4] + slide, z + o[5])
        cx, cy, _ = noise_slopes(x + o[6], y + o[7], z + o[8] + slide)
        push = (swirl * (cy - bz), lift + swirl * (az - cx), swirl * (bx - ay))
        keep = np.float32(np.exp(-0.8 * dt))
        gain = np.float32(-np.expm1(-0.8 * dt) / 0.8)
        drifts = np.float32((dt + np.expm1(-0.8 * dt) / 0.8) / 0.8)
        out = {}
        for axis, a in zip("xyz", push, strict=True):
            v = s[f"velocity.{axis}"] * keep + a * gain
            out[f"velocity.{axis}"] = v
            out[f"position.{axis}"] = s[f"position.{axis}"] + s[f"velocity.{axis}"] * gain + a * drifts
        return out
