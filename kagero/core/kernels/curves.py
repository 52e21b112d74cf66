"""Curves and gradients as tables of polynomial pieces, and their evaluation.

A curve table has one row for each key: x, then c0..c3 of the piece that starts there, in powers of (t - x). Smooth
pieces are cubic Hermite with the monotone slopes of Fritsch and Butland, "A method for constructing local monotone
piecewise cubic interpolants", SIAM J. Sci. Stat. Comput. 5 (1984), three-point end slopes included; smooth keys
therefore never overshoot. Free pieces are cubic Bezier curves whose handles stay between their two keys, as in CSS
Easing Functions Level 1; each is divided into FREE_CUTS Hermite pieces that share value and slope with the curve at
their ends.
"""

from __future__ import annotations

import numpy as np

from .compiled import kernel

LINEAR, SMOOTH, HOLD, FREE = 0, 1, 2, 3
SHAPES = {"linear": LINEAR, "smooth": SMOOTH, "hold": HOLD, "free": FREE}
FREE_CUTS = 16
Handle = tuple[float, float]


def curve_table(
    x: list[float], y: list[float], shapes: list[int], handles: list[tuple[Handle | None, Handle | None]] | None = None
) -> np.ndarray:
    """Return the (m, 5) float32 table of n keys; x must increase strictly. m is n plus FREE_CUTS - 1 for each free
    piece.

    handles: into and out of each key, relative to it; a missing handle lies a third of the way along the smooth slope.
    """
    n = len(x)
    xs, ys = np.asarray(x, np.float64), np.asarray(y, np.float64)
    slopes = _monotone_slopes(xs, ys) if n > 1 else np.zeros(1)
    rows: list[list[float]] = []
    for i in range(n):
        last = i == n - 1
        if last or shapes[i] == HOLD:
            rows.append([xs[i], ys[i], 0, 0, 0])
        elif shapes[i] == FREE:
            into, out = handles[i + 1][0] if handles else None, handles[i][1] if handles else None
            rows += _bezier_pieces(xs[i], ys[i], xs[i + 1], ys[i + 1], slopes[i], slopes[i + 1], out, into)
        else:
            h, delta = xs[i + 1] - xs[i], (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i])
            a, b = (delta, delta) if shapes[i] == LINEAR else (slopes[i], slopes[i + 1])
            rows.append(_hermite(xs[i], ys[i], h, delta, a, b) if shapes[i] == SMOOTH else [xs[i], ys[i], delta, 0, 0])
    return np.asarray(rows, np.float64).astype(np.float32)


def _hermite(x: float, y: float, h: float, delta: float, a: float, b: float) -> list[float]:
    return [x, y, a, (3 * delta - 2 * a - b) / h, (a + b - 2 * delta) / h**2]


def _bezier_pieces(
    x0: float, y0: float, x1: float, y1: float, slope0: float, slope1: float, out: Handle | None, into: Handle | None
) -> list[list[float]]:
    """Return the pieces of a Bezier curve whose handles are clamped between x0 and x1, so that it is a function of
    x."""
    h = x1 - x0
    ox, oy = out if out is not None else (h / 3, slope0 * h / 3)
    ix, iy = into if into is not None else (-h / 3, -slope1 * h / 3)
    a, b = min(max(ox, 0.0), h), min(max(h + ix, 0.0), h)  # across, from x0
    t = (1 - np.cos(np.pi * np.arange(FREE_CUTS + 1) / FREE_CUTS)) / 2  # closer at the ends, where handles turn it most
    s = 1 - t
    bx = 3 * s * s * t * a + 3 * s * t * t * b + t**3 * h
    by = s**3 * y0 + 3 * s * s * t * (y0 + oy) + 3 * s * t * t * (y1 + iy) + t**3 * y1
    dx = 3 * s * s * a + 6 * s * t * (b - a) + 3 * t * t * (h - b)
    dy = 3 * s * s * oy + 6 * s * t * (y1 + iy - y0 - oy) - 3 * t * t * iy
    pieces = []
    for k in range(FREE_CUTS):
        wide = bx[k + 1] - bx[k]
        if wide < 1e-7:
            continue
        delta = (by[k + 1] - by[k]) / wide
        # where the curve stands upright its slope has no end: three times the chord's keeps a piece from overshooting
        limit = 3 * abs(delta)
        ends = [dy[m] / dx[m] if dx[m] > 1e-9 else np.copysign(limit, delta) for m in (k, k + 1)]
        ends = [
            float(np.clip(e, -limit, limit)) if dx[m] < 0.05 * h else float(e)
            for e, m in zip(ends, (k, k + 1), strict=True)
        ]
        pieces.append(_hermite(x0 + bx[k], by[k], wide, delta, *ends))
    return pieces or [[x0, y0, 0, 0, 0]]


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


def gradient_table(
    x: list[float], colours: list[tuple[float, float, float]], shapes: list[int] | None = None
) -> np.ndarray:
    """Return the (n, 9) float32 table of n stops: x, red, green, blue, differences to the next stop (3), 1 / distance
    to it, shape.

    A smooth piece follows GLSL's smoothstep from stop to stop.
    """
    n = len(x)
    table = np.zeros((n, 9))
    table[:, 0], table[:, 1:4] = x, colours
    table[:, 8] = shapes if shapes is not None else LINEAR
    if n > 1:
        table[:-1, 4:7] = np.diff(table[:, 1:4], axis=0)
        table[:-1, 7] = 1 / np.diff(table[:, 0])
        table[table[:, 8] == HOLD, 4:7] = 0
    return table.astype(np.float32)


@kernel("void(float32[:,::1], float32[::1], float32[::1])", "void(float32[:,::1], float64[::1], float64[::1])")
def curve_into(table, t, out):
    """Write the curve's value at each t, (n,). Beyond the first and last key it is constant."""
    last = table.shape[0] - 1
    for i in range(t.size):
        v = min(max(t[i], table[0, 0]), table[last, 0])
        k = 0
        while k < last and v >= table[k + 1, 0]:
            k += 1
        d = v - table[k, 0]
        out[i] = ((table[k, 4] * d + table[k, 3]) * d + table[k, 2]) * d + table[k, 1]


@kernel("void(float32[:,::1], float32[::1], float32[::1], float32[::1], float32[::1])")
def gradient_into(table, t, red, green, blue):
    """Write the gradient's linear-light colour at each t, (n,). Beyond the first and last stop it is constant."""
    last = table.shape[0] - 1
    two, three = np.float32(2), np.float32(3)
    for i in range(t.size):
        v = min(max(t[i], table[0, 0]), table[last, 0])
        k = 0
        while k < last and v >= table[k + 1, 0]:
            k += 1
        d = (v - table[k, 0]) * table[k, 7]
        if table[k, 8] == np.float32(1):
            d = d * d * (three - two * d)
        red[i] = table[k, 4] * d + table[k, 1]
        green[i] = table[k, 5] * d + table[k, 2]
        blue[i] = table[k, 6] * d + table[k, 3]
