"""Who may come near a contact in a step, by columns: what most particles are left out by before any is taken through contacts."""

from __future__ import annotations

from typing import Any

import numpy as np

from .compiled import kernel

_UNCOUNTED: Any = {"error_model": "numpy", "_nrt": False}
_PATH = "float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], float32[::1], "
_PATH += "float32[::1], float32[::1], "


@kernel(f"void({_PATH}float32, float32[:], float32[:], float32, boolean[::1])", **_UNCOUNTED)
def near_plane(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, point, normal, reach, out):
    """Add who may come within `reach` (m) of a plane in a step of dt seconds: out (n,) bool. x0 to w1: place and velocity as it begins and ends.

    A way through a step is no further from the line between its ends than an eighth of what its velocity changes, times dt.
    """
    a, b, c = normal[0], normal[1], normal[2]
    off = point[0] * a + point[1] * b + point[2] * c
    for i in range(out.size):
        one = x0[i] * a + y0[i] * b + z0[i] * c
        two = x1[i] * a + y1[i] * b + z1[i] * c
        bend = abs((u1[i] - u0[i]) * a + (v1[i] - v0[i]) * b + (w1[i] - w0[i]) * c) * dt * np.float32(0.125)
        out[i] |= min(one, two) - bend - off <= reach


@kernel(f"void({_PATH}float32, float32[:], float32[:], float32, boolean[::1])", **_UNCOUNTED)
def near_box(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, low, high, reach, out):
    """Add who may come within `reach` (m) of what lies within a box along the axes, from low to high. As `near_plane`."""
    eighth = dt * np.float32(0.125)
    lx, ly, lz, hx, hy, hz = (
        low[0] - reach,
        low[1] - reach,
        low[2] - reach,
        high[0] + reach,
        high[1] + reach,
        high[2] + reach,
    )
    for i in range(out.size):
        bx, by, bz = abs(u1[i] - u0[i]) * eighth, abs(v1[i] - v0[i]) * eighth, abs(w1[i] - w0[i]) * eighth
        x = (max(x0[i], x1[i]) + bx >= lx) & (min(x0[i], x1[i]) - bx <= hx)
        y = (max(y0[i], y1[i]) + by >= ly) & (min(y0[i], y1[i]) - by <= hy)
        z = (max(z0[i], z1[i]) + bz >= lz) & (min(z0[i], z1[i]) - bz <= hz)
        out[i] |= x & y & z


@kernel(f"void({_PATH}float32, float64[:, ::1], int32[:, ::1], int64, float64, int64[::1], boolean[::1])", **_UNCOUNTED)
def near_tree(x0, y0, z0, u0, v0, w0, x1, y1, z1, u1, v1, w1, dt, boxes, links, root, reach, stack, out):
    """Leave, of those in out (n,) bool, only who may come within `reach` (m) of a leaf of a tree: what is about a way along the axes meets its box.

    boxes, links: of a tree, as of `kernels.bvh`, over the whole step; stack: room for its depth. As `near_plane`.
    """
    eighth = float(dt) * 0.125
    for i in range(out.size):
        if not out[i]:
            continue
        bx, by, bz = (
            abs(u1[i] - u0[i]) * eighth + reach,
            abs(v1[i] - v0[i]) * eighth + reach,
            abs(w1[i] - w0[i]) * eighth + reach,
        )
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
