"""Rasterisation of surfaces that particles form together, with a depth buffer, lit like props; colour and coverage come
from their points."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .bodies import NEAR
from .compiled import kernel
from .shading import LIGHTS, shade
from .sheets import FAST, cell_at, read_cell

F32 = np.float32
_OPTIONS: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}


@kernel(
    "void(float32[:,:,::1], float64[:,::1], int64, int64, float64[::1], float64[::1], float64[::1], int32[:,::1], "
    "float64[:,::1], "
    f"float32[:,::1], float64[::1], boolean, float64, {LIGHTS}, float32[:,::1], float32[:,::1], int64[:,::1], "
    "float32[:,:,::1], int64)",
    **_OPTIONS,
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
    """Paint triangles into rows first..last - 1 of a picture (H, W, 4), premultiplied linear light, and its depth (H,
    W), metres: only the nearest at each pixel.

    x, y (pixels), away (metres): of each point, (V,). faces: (T, 3). normals: in eye space, (V, 3). tint: linear colour
    and coverage, (V, 4). view: pixels a metre at a depth of one metre, and the middle of the view, (3,). shaded, gloss:
    strength of lighting and of the gleam. lamps: as in `shading`. uv: texture position, (V, 2), empty without a picture
    (sheet 0 of `kernels.sheets`); edges: what lies outside it.
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
                red = tint[a, 0] * u + tint[b, 0] * v + tint[c, 0] * w
                green = tint[a, 1] * u + tint[b, 1] * v + tint[c, 1] * w
                blue = tint[a, 2] * u + tint[b, 2] * v + tint[c, 2] * w
                cover = tint[a, 3] * u + tint[b, 3] * v + tint[c, 3] * w
                if pictured:
                    s = F32(uv[a, 0] * u + uv[b, 0] * v + uv[c, 0] * w)
                    t = F32(uv[a, 1] * u + uv[b, 1] * v + uv[c, 1] * w)
                    film = read_cell(texels, info[0, 0], info[0, 1], cell, s, t, edges)
                    if film[3] <= F32(0.004):
                        continue
                    red = red * film[0] / film[3]
                    green = green * film[1] / film[3]
                    blue = blue * film[2] / film[3]
                    cover = cover * film[3]
                if shaded:
                    ex, ey, ez = -(px + 0.5 - view[1]) / view[0] * far, (py + 0.5 - view[2]) / view[0] * far, far
                    lr, lg, lb, rim, gleam = shade(
                        normals[a, 0] * u + normals[b, 0] * v + normals[c, 0] * w,
                        normals[a, 1] * u + normals[b, 1] * v + normals[c, 1] * w,
                        normals[a, 2] * u + normals[b, 2] * v + normals[c, 2] * w,
                        ex,
                        ey,
                        ez,
                        lamps,
                    )
                    red = red * lr + 0.09 * rim + gleam * gloss
                    green = green * lg + 0.12 * rim + gleam * gloss
                    blue = blue * lb + 0.14 * rim + gleam * gloss
                picture[py, px, 0], picture[py, px, 1] = F32(red * cover), F32(green * cover)
                picture[py, px, 2], picture[py, px, 3] = F32(blue * cover), F32(cover)
                depth[py, px] = far
