"""Broad phase of contacts: which particles may come near a contact in a step. Most particles are excluded here, column
by column, before the exact test."""

from __future__ import annotations

from typing import Any

import numpy as np

from .compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
_PATH = (
    "float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], "
    "float32[::1], float32[::1], "
)
_PATH += "float32[::1], float32[::1], "


@kernel(f"void({_PATH}float32, float32[:], float32[:], float32, boolean[::1])", **_OPTIONS)
def near_plane(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, point, normal, reach, out):
    """Mark in out (n,) bool the particles that may come within `reach` (m) of a plane in a step of dt seconds.

    x0..w1: (n,) float32 position and velocity at the step's start and end. A path through a step deviates from the
    chord between its ends by at most an eighth of the change of velocity, times dt.
    """
    a, b, c = normal[0], normal[1], normal[2]
    off = point[0] * a + point[1] * b + point[2] * c
    for i in range(out.size):
        one = x0[i] * a + y0[i] * b + z0[i] * c
        two = x1[i] * a + y1[i] * b + z1[i] * c
        bend = abs((u1[i] - u0[i]) * a + (v1[i] - v0[i]) * b + (w1[i] - w0[i]) * c) * dt * np.float32(0.125)
        out[i] |= min(one, two) - bend - off <= reach


@kernel(f"void({_PATH}float32, float32[:], float32[:], float32, boolean[::1])", **_OPTIONS)
def near_box(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, low, high, reach, out):
    """Mark in out (n,) bool the particles that may come within `reach` (m) of an axis-aligned box from low to high.
    Other arguments as in `near_plane`."""
    eighth = dt * np.float32(0.125)
    lx = low[0] - reach
    ly = low[1] - reach
    lz = low[2] - reach
    hx = high[0] + reach
    hy = high[1] + reach
    hz = high[2] + reach
    for i in range(out.size):
        bx, by, bz = abs(u1[i] - u0[i]) * eighth, abs(v1[i] - v0[i]) * eighth, abs(w1[i] - w0[i]) * eighth
        x = (max(x0[i], x1[i]) + bx >= lx) & (min(x0[i], x1[i]) - bx <= hx)
        y = (max(y0[i], y1[i]) + by >= ly) & (min(y0[i], y1[i]) - by <= hy)
        z = (max(z0[i], z1[i]) + bz >= lz) & (min(z0[i], z1[i]) - bz <= hz)
        out[i] |= x & y & z


@kernel(f"void({_PATH}float32, float64[:, ::1], int32[:, ::1], int64, float64, int64[::1], boolean[::1])", **_OPTIONS)
def near_tree(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, boxes, links, root, reach, stack, out):
    """Clear in out (n,) bool the particles that cannot come within `reach` (m) of a tree's leaves: the axis-aligned box
    around the path meets none.

    boxes, links: a tree as in `kernels.bvh`, over the whole step. stack: working memory as deep as the tree. Other
    arguments as in `near_plane`.
    """
    eighth = float(dt) * 0.125
    for i in range(out.size):
        if not out[i]:
            continue
        bx = abs(u1[i] - u0[i]) * eighth + reach
        by = abs(v1[i] - v0[i]) * eighth + reach
        bz = abs(w1[i] - w0[i]) * eighth + reach
        lx, ly, lz = min(x0[i], x1[i]) - bx, min(y0[i], y1[i]) - by, min(z0[i], z1[i]) - bz
        hx, hy, hz = max(x0[i], x1[i]) + bx, max(y0[i], y1[i]) + by, max(z0[i], z1[i]) + bz
        stack[0], top, hit = root, 1, False
        while top > 0 and not hit:
            top -= 1
            node = stack[top]
            box = boxes[node]
            if box[0] > hx or box[3] < lx or box[1] > hy or box[4] < ly or box[2] > hz or box[5] < lz:
                continue
            if links[node, 0] < 0:
                hit = True
            else:
                stack[top], stack[top + 1] = links[node, 0], links[node, 1]
                top += 2
        out[i] = hit
