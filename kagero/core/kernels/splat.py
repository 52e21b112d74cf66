"""Discs painted into a linear-light, premultiplied picture; compositing by Porter and Duff, SIGGRAPH 1984."""

from __future__ import annotations

import math

import numpy as np
from numba import njit


def splat_discs(picture: np.ndarray, x: np.ndarray, y: np.ndarray, radius: np.ndarray, colour: np.ndarray, opacity: np.ndarray, cover: np.ndarray,
                shape: np.ndarray, depth: np.ndarray | None = None, nearest: np.ndarray | None = None) -> None:  # fmt: skip
    """Paint discs as `_splat` does; depth: how far each is, metres, and nearest: (height, width), how far what hides them is."""
    hidden = nearest is not None and depth is not None
    _splat(picture, x, y, radius, colour, opacity, cover, shape, np.ascontiguousarray(depth, np.float64) if hidden else np.empty(0),
           nearest if hidden else np.empty((0, 0)))  # fmt: skip


@njit("void(float32[:,:,::1], float32[::1], float32[::1], float32[::1], float32[:,::1], float32[::1], float32[::1], float32[:,::1], "
      "float64[::1], float64[:,::1])", cache=True, nogil=True)  # fmt: skip
def _splat(picture, x, y, radius, colour, opacity, cover, shape, depth, nearest):
    """Paint discs in the order given into picture (height, width, 4), premultiplied linear light.

    x, y: centres in pixels, (n,); radius: pixels, (n,); colour: (n, 3); opacity: (n,). A disc's coverage is
    (1 - q^2)^2, q = 0 up to the share of the radius where it is full, and 1 at its edge, which is a pixel and a half wide at least; one thinner
    than a pixel is painted as wide as a pixel and as much fainter.
    cover: (n,) 1 is laid over what is there, 0 adds light and covers nothing.
    shape: (n, 3), how many times longer than wide, by how many radians its long side is turned from the picture's
    right towards its top, and up to which share of its radius it is full.
    """
    height, width = picture.shape[0], picture.shape[1]
    for i in range(x.size):
        r, a = radius[i], opacity[i]
        if not (r > 0.0 and a > 0.0):
            continue
        if r < 0.75:
            a *= (r / np.float32(0.75)) ** 2
            r = np.float32(0.75)
        if x[i] + r < 0 or y[i] + r < 0 or x[i] - r > width or y[i] - r > height:
            continue
        x0, x1 = max(0, math.floor(x[i] - r)), min(width - 1, math.ceil(x[i] + r))
        y0, y1 = max(0, math.floor(y[i] - r)), min(height - 1, math.ceil(y[i] + r))
        inverse = np.float32(1.0) / (r * r)
        stretch = max(shape[i, 0], np.float32(1.0))
        across = min(stretch, r / np.float32(0.75))  # no thinner than a pixel and a half, and then as much fainter
        a *= across / stretch
        cosine, sine = math.cos(shape[i, 1]), math.sin(shape[i, 1])
        full = min(max(shape[i, 2], np.float32(0.0)), max(np.float32(0.0), np.float32(1.0) - np.float32(1.5) / r))
        for py in range(y0, y1 + 1):
            dy = np.float32(py) + np.float32(0.5) - y[i]
            for px in range(x0, x1 + 1):
                dx = np.float32(px) + np.float32(0.5) - x[i]
                along, beside = dx * cosine - dy * sine, (dx * sine + dy * cosine) * across
                square = (along * along + beside * beside) * inverse
                if square >= 1.0:
                    continue
                k = np.float32(1.0) - square
                if full > 0.0:
                    q = max(math.sqrt(square) - full, np.float32(0.0)) / (np.float32(1.0) - full)
                    k = np.float32(1.0) - q * q
                if depth.size > 0 and depth[i] > nearest[py, px]:
                    continue
                c = a * k * k
                hides = c * cover[i]
                keep = np.float32(1.0) - hides
                picture[py, px, 0] = colour[i, 0] * c + picture[py, px, 0] * keep
                picture[py, px, 1] = colour[i, 1] * c + picture[py, px, 1] * keep
                picture[py, px, 2] = colour[i, 2] * c + picture[py, px, 2] * keep
                picture[py, px, 3] = hides + picture[py, px, 3] * keep
