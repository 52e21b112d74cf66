"""Pixel operations on finished pictures that are too slow as array operations: down- and upsampling for blurs, and
grain."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .compiled import kernel

F32 = np.float32
MASK = 0xFFFFFFFF
# four uniform numbers summed have a variance of a third: so scaled it is one (Irwin and Hall)
SPREAD = math.sqrt(3.0)
_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel("void(float32[:,:,::1], float32[:,:,::1], int64, int64, int64, float64, float64, int64, int64)", **_OPTIONS)
def shrink_bright(light, small, k, left, top, threshold, knee, first, last):
    """Downsample the part of premultiplied light (H, W, 4) above a threshold into rows first..last - 1 of small (h, w,
    3): each pixel is the mean of k x k.

    The threshold applies to the brightest channel, with a soft knee on both sides. left, top: columns and rows of the
    first pixel that lie outside, where there is no light.
    """
    height, width = light.shape[0], light.shape[1]
    share = 1.0 / (k * k)
    for j in range(first, last):
        for i in range(small.shape[1]):
            red = green = blue = 0.0
            for y in range(max(j * k - top, 0), min(j * k - top + k, height)):
                for x in range(max(i * k - left, 0), min(i * k - left + k, width)):
                    r, g, b = max(light[y, x, 0], 0.0), max(light[y, x, 1], 0.0), max(light[y, x, 2], 0.0)
                    counts = 1.0
                    if threshold > 0.0:
                        most = max(r, g, b)
                        if most <= threshold - knee:
                            continue
                        if most > threshold + knee:
                            counts = (most - threshold) / most
                        else:
                            counts = (most - threshold + knee) ** 2 / (4.0 * knee * max(most, 1e-9))
                    red, green, blue = red + r * counts, green + g * counts, blue + b * counts
            small[j, i, 0], small[j, i, 1], small[j, i, 2] = F32(red * share), F32(green * share), F32(blue * share)


@kernel("void(float32[:,:,::1], float32[:,:,::1], int64, int64, int64, float32[::1], int64, int64)", **_OPTIONS)
def add_enlarged(image, small, k, left, top, tint, first, last):
    """Add small (h, w, 3), as `shrink_bright` gives it, times tint (3,), to rows first..last - 1 of a picture (H, W,
    4), upsampled by k with linear interpolation."""
    tall, wide = small.shape[0], small.shape[1]
    for y in range(first, last):
        v = (y + top + 0.5) / k - 0.5
        j = math.floor(v)
        fy = v - j
        j0, j1 = min(max(j, 0), tall - 1), min(max(j + 1, 0), tall - 1)
        for x in range(image.shape[1]):
            u = (x + left + 0.5) / k - 0.5
            i = math.floor(u)
            fx = u - i
            i0, i1 = min(max(i, 0), wide - 1), min(max(i + 1, 0), wide - 1)
            for c in range(3):
                upper = small[j0, i0, c] * (1.0 - fx) + small[j0, i1, c] * fx
                lower = small[j1, i0, c] * (1.0 - fx) + small[j1, i1, c] * fx
                image[y, x, c] += F32(max(upper * (1.0 - fy) + lower * fy, 0.0) * tint[c])


@kernel("int64(int64)", **_OPTIONS)
def pcg(v):
    """Return a 32-bit hash of a 32-bit number: PCG's output function (Jarzynski and Olano, "Hash functions for GPU
    rendering", JCGT 9, 2020: `pcg`)."""
    state = (v * 747796405 + 2891336453) & MASK
    word = (((state >> ((state >> 28) + 4)) ^ state) * 277803737) & MASK
    return (word >> 22) ^ word


@kernel("float64(int64, int64, int64)", **_OPTIONS)
def grain_at(x, y, z):
    """Return a number of mean 0 and variance near 1 for a lattice point: the sum of its hash's four bytes, scaled."""
    bits = pcg(((x & MASK) + pcg(((y & MASK) + pcg(z & MASK)) & MASK)) & MASK)
    return ((bits & 255) + (bits >> 8 & 255) + (bits >> 16 & 255) + (bits >> 24 & 255)) / 255.0 * SPREAD - 2.0 * SPREAD


@kernel("void(float32[:,::1], int64, int64, float64, int64, int64, int64)", **_OPTIONS)
def grains(out, left, top, size, z, first, last):
    """Write noise of mean 0 and variance near 1 into rows first..last - 1 of out (H, W).

    left, top: position of the first pixel. size: lattice spacing in pixels. Smooth between lattice points, with equal
    variance everywhere.
    """
    for j in range(first, last):
        y = (j + top + 0.5) / size
        y0 = math.floor(y)
        fy = y - y0
        for i in range(out.shape[1]):
            x = (i + left + 0.5) / size
            x0 = math.floor(x)
            if size <= 1.0:
                out[j, i] = F32(grain_at(x0, y0, z))
                continue
            fx = x - x0
            a, b, c, d = (1.0 - fx) * (1.0 - fy), fx * (1.0 - fy), (1.0 - fx) * fy, fx * fy
            mixed = (
                a * grain_at(x0, y0, z)
                + b * grain_at(x0 + 1, y0, z)
                + c * grain_at(x0, y0 + 1, z)
                + d * grain_at(x0 + 1, y0 + 1, z)
            )
            out[j, i] = F32(mixed / math.sqrt(a * a + b * b + c * c + d * d))
