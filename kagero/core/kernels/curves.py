"""Curves and gradients as tables of polynomial pieces, and their evaluation.

A curve table has one row a key: x, then c0..c3 of the piece that starts there, in powers of (t - x). Smooth pieces are
cubic Hermite with the monotone slopes of Fritsch and Butland, "A method for constructing local monotone piecewise cubic
interpolants", SIAM J. Sci. Stat. Comput. 5 (1984), three-point end slopes included; so smooth keys never overshoot.
"""

from __future__ import annotations

import numpy as np
from numba import njit

LINEAR, SMOOTH, HOLD = 0, 1, 2
SHAPES = {"linear": LINEAR, "smooth": SMOOTH, "hold": HOLD}


def curve_table(x: list[float], y: list[float], shapes: list[int]) -> np.ndarray:
    """Return the (n, 5) float32 table of n keys; x rises strictly."""
    n = len(x)
    xs, ys = np.asarray(x, np.float64), np.asarray(y, np.float64)
    table = np.zeros((n, 5))
    table[:, 0], table[:, 1] = xs, ys
    if n > 1:
        slopes = _monotone_slopes(xs, ys)
        for i in range(n - 1):
            h = xs[i + 1] - xs[i]
            delta = (ys[i + 1] - ys[i]) / h
            if shapes[i] == LINEAR:
                table[i, 2] = delta
            elif shapes[i] == SMOOTH:
                table[i, 2] = slopes[i]
                table[i, 3] = (3 * delta - 2 * slopes[i] - slopes[i + 1]) / h
                table[i, 4] = (slopes[i] + slopes[i + 1] - 2 * delta) / h**2
    return table.astype(np.float32)


def _monotone_slopes(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    h, delta = np.diff(x), np.diff(y) / np.diff(x)
    if len(x) == 2:
        return np.array([delta[0], delta[0]])
    slopes = np.zeros(len(x))
    for i in range(1, len(x) - 1):
        if delta[i - 1] * delta[i] > 0:  # else a turning point: level
            w1, w2 = 2 * h[i] + h[i - 1], h[i] + 2 * h[i - 1]
            slopes[i] = (w1 + w2) / (w1 / delta[i - 1] + w2 / delta[i])
    for end, a, b in ((0, 0, 1), (-1, -1, -2)):
        slope = ((2 * h[a] + h[b]) * delta[a] - h[a] * delta[b]) / (h[a] + h[b])
        if slope * delta[a] <= 0:
            slope = 0.0
        elif delta[a] * delta[b] <= 0 and abs(slope) > 3 * abs(delta[a]):
            slope = 3 * delta[a]
        slopes[end] = slope
    return slopes


def gradient_table(x: list[float], colours: list[tuple[float, float, float]]) -> np.ndarray:
    """Return the (n, 7) float32 table of n stops: x, red, green, blue, and the slopes to the next stop."""
    table = np.zeros((len(x), 7))
    table[:, 0], table[:, 1:4] = x, colours
    if len(x) > 1:
        table[:-1, 4:7] = np.diff(table[:, 1:4], axis=0) / np.diff(table[:, 0])[:, None]
    return table.astype(np.float32)


@njit("void(float32[:,::1], float32[::1], float32[::1])", cache=True, nogil=True)
def curve_into(table, t, out):
    """Write the curve's value at each t (shape (n,)); beyond the outer keys it holds."""
    last = table.shape[0] - 1
    for i in range(t.size):
        v = min(max(t[i], table[0, 0]), table[last, 0])
        k = 0
        while k < last and v >= table[k + 1, 0]:
            k += 1
        d = v - table[k, 0]
        out[i] = ((table[k, 4] * d + table[k, 3]) * d + table[k, 2]) * d + table[k, 1]


@njit("void(float32[:,::1], float32[::1], float32[::1], float32[::1], float32[::1])", cache=True, nogil=True)
def gradient_into(table, t, red, green, blue):
    """Write the gradient's linear-light colour at each t (shape (n,)); beyond the outer stops it holds."""
    last = table.shape[0] - 1
    for i in range(t.size):
        v = min(max(t[i], table[0, 0]), table[last, 0])
        k = 0
        while k < last and v >= table[k + 1, 0]:
            k += 1
        d = v - table[k, 0]
        red[i] = table[k, 4] * d + table[k, 1]
        green[i] = table[k, 5] * d + table[k, 2]
        blue[i] = table[k, 6] * d + table[k, 3]
