"""Surfaces that particles make together, painted with a depth buffer, lit as props are; colours and cover from their points."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .bodies import NEAR
from .compiled import kernel
from .shading import LIGHTS, lit
from .sheets import FAST, cell_at, read_cell

F32 = np.float32
_UNCOUNTED: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}


@kernel(
    "void(float32[:,:,::1], float64[:,::1], int64, int64, float64[::1], float64[::1], float64[::1], int32[:,::1], float64[:,::1], "
    f"float32[:,::1], float64[::1], boolean, float64, {LIGHTS}, float32[:,::1], float32[:,::1], int64[:,::1], float32[:,:,::1], int64)",
    **_UNCOUNTED,
)
def paint_surface(
    picture,
    depth,
    first,
    last,
    x,
    y,
    away,
    faces,
    normals,
    tint,
    view,
    shaded,
    gloss,
    lamps,
    uv,
    texels,
    info,
    plates,
    edges,
):
    """Paint triangles into the rows first..last - 1 of picture (H, W, 4), linear light times cover and cover, and of depth (H, W), metres, where
    nothing nearer is: of each pixel the nearest alone.

    x, y, away: of each point, pixels and metres, (V,). faces: (T, 3). normals: in the eye's space, (V, 3). tint: linear colour and cover, (V, 4).
    view:
    pixels a metre at one metre's depth, and where the middle of the view is, pixels, (3,). gloss: how much of the gleam there is; lamps: (L, 7).
    uv: where a picture lies, (V, 2), none without one: sheet 0 of those of `kernels.sheets`; edges: what stands beyond its own.
    """
    width = picture.shape[1]
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        if away[a] < NEAR or away[b] < NEAR or away[c] < NEAR:
            continue
        area = (x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])
        if area == 0.0 or not math.isfinite(area):
            continue
        x0, x1 = max(0, math.floor(min(x[a], x[b], x[c]))), min(width - 1, math.ceil(max(x[a], x[b], x[c])))
        y0, y1 = max(first, math.floor(min(y[a], y[b], y[c]))), min(last - 1, math.ceil(max(y[a], y[b], y[c])))
        pictured = uv.shape[0] > 0
        level = 0
        if pictured:
            texel = abs((uv[b, 0] - uv[a, 0]) * (uv[c, 1] - uv[a, 1]) - (uv[c, 0] - uv[a, 0]) * (uv[b, 1] - uv[a, 1]))
            dense = math.sqrt(texel * plates[0, 0, 2] * plates[0, 0, 3] / max(abs(area), 1e-6))  # texels a pixel
            while dense >= 2.0 and level < info[0, 3] - 1:
                dense *= 0.5
                level += 1
        cell = cell_at(info, plates, 0, level, 0)
        for py in range(y0, y1 + 1):
            cy = py + 0.5 + 2.71e-6  # no centre lies on an edge that two triangles share
            for px in range(x0, x1 + 1):
                cx = px + 0.5 + 1.37e-6
                u = ((x[b] - cx) * (y[c] - cy) - (x[c] - cx) * (y[b] - cy)) / area
                v = ((x[c] - cx) * (y[a] - cy) - (x[a] - cx) * (y[c] - cy)) / area
                w = 1.0 - u - v
                if u < 0.0 or v < 0.0 or w < 0.0:
                    continue
                u, v, w = u / away[a], v / away[b], w / away[c]
                far = 1.0 / (u + v + w)
                if far >= depth[py, px]:
                    continue
                u, v, w = u * far, v * far, w * far
                red, green = (
                    tint[a, 0] * u + tint[b, 0] * v + tint[c, 0] * w,
                    tint[a, 1] * u + tint[b, 1] * v + tint[c, 1] * w,
                )
                blue, cover = (
                    tint[a, 2] * u + tint[b, 2] * v + tint[c, 2] * w,
                    tint[a, 3] * u + tint[b, 3] * v + tint[c, 3] * w,
                )
                if pictured:
                    s, t = (
                        F32(uv[a, 0] * u + uv[b, 0] * v + uv[c, 0] * w),
                        F32(uv[a, 1] * u + uv[b, 1] * v + uv[c, 1] * w),
                    )
                    film = read_cell(texels, info[0, 0], info[0, 1], cell, s, t, edges)
                    if film[3] <= F32(0.004):
                        continue
                    red, green, blue, cover = (
                        red * film[0] / film[3],
                        green * film[1] / film[3],
                        blue * film[2] / film[3],
                        cover * film[3],
                    )
                if shaded:
                    ex, ey, ez = -(px + 0.5 - view[1]) / view[0] * far, (py + 0.5 - view[2]) / view[0] * far, far
                    lr, lg, lb, rim, gleam = lit(
                        normals[a, 0] * u + normals[b, 0] * v + normals[c, 0] * w,
                        normals[a, 1] * u + normals[b, 1] * v + normals[c, 1] * w,
                        normals[a, 2] * u + normals[b, 2] * v + normals[c, 2] * w,
                        ex,
                        ey,
                        ez,
                        lamps,
                    )
                    red, green, blue = (
                        red * lr + 0.09 * rim + gleam * gloss,
                        green * lg + 0.12 * rim + gleam * gloss,
                        blue * lb + 0.14 * rim + gleam * gloss,
                    )
                picture[py, px, 0], picture[py, px, 1] = F32(red * cover), F32(green * cover)
                picture[py, px, 2], picture[py, px, 3] = F32(blue * cover), F32(cover)
                depth[py, px] = far
