"""Rasterisation of triangles into a linear-light, premultiplied picture with a depth buffer, lit as the stage lights
them.

Attributes are interpolated perspective-correctly by 1 / depth (Blinn, "Hyperbolic interpolation", IEEE CG&A 12, 1992).
A pixel belongs to a triangle when its centre lies inside.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .compiled import kernel
from .shading import shade as lit_by
from .shading import specular

NEAR = 0.02  # metres; triangles that reach nearer are left out: they are cut before (`picture.cutting`)


DIELECTRIC = 0.04  # what plain matter reflects head on: of an index of 1.5, as glTF 2.0 has it (appendix B)


_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel("UniTuple(float64, 4)(float32[:,:,::1], float64, float64)", **_OPTIONS)
def texel(texture, u, v):
    """Return the colour of a picture, (H, W, 4), at (u, v), bilinear and repeated."""
    tall, wide = texture.shape[0], texture.shape[1]
    s, t = u * wide - 0.5, (1.0 - v) * tall - 0.5
    s0, t0 = math.floor(s), math.floor(t)
    r, g, b, al = 0.0, 0.0, 0.0, 0.0
    for n in range(4):
        part = (s - s0 if n & 1 else 1.0 - (s - s0)) * (t - t0 if n & 2 else 1.0 - (t - t0))
        row, column = int(t0 + (n >> 1)) % tall, int(s0 + (n & 1)) % wide
        r += texture[row, column, 0] * part
        g += texture[row, column, 1] * part
        b += texture[row, column, 2] * part
        al += texture[row, column, 3] * part
    return r, g, b, al


@kernel()
def paint_triangles(
    picture,
    depth,
    x,
    y,
    away,
    faces,
    normals,
    views,
    uv,
    local,
    gone,
    colour,
    texture,
    pictured,
    alpha,
    grain,
    by_uv,
    lit,
    hides,
    lamps,
    laid,
    thrown,
    surface,
    rough_map,
    glow_map,
    mapped,
    first,
    last,
):
    """Paint triangles into rows first..last - 1 of a picture (H, W, 4) and its depth (H, W), metres, with a depth test.

    Points: x, y (pixels) and away (metres), (V,); normals, views: unit normal and vector to the eye in view space, (V,
    3); uv: (V, 2); laid: texture position of a projected picture, (V, 3), divided by its third component where
    `thrown`, with no picture outside 0 to 1; local: position that decides where a dissolving prop falls apart, (V, 3);
    gone: how far it has dissolved, 0 to 1, (V,).

    Faces: faces (F, 3); colour: linear, (F, 3); texture: (H, W, 4), linear, used where pictured (F,); surface: (F, 7),
    roughness, metalness, emitted light (3), emission as a multiple of the colour, share of metal in what is not metal;
    rough_map: (H, W, 4), red times the roughness and alpha times the metalness; glow_map: times the emitted light; used
    where mapped (F,) has bits 1 and 2.

    alpha: below 1 nothing behind is hidden. grain: pieces a metre of dissolving; by_uv: pieces by (u, v) instead of
    local. lit: whether lights count. hides: whether depth is written. lamps: as in `shading`.
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
                total = u + v + w
                far = 1.0 / total
                if far >= depth[py, px]:
                    continue
                u, v, w = u * far, v * far, w * far
                tu, tv = uv[a, 0] * u + uv[b, 0] * v + uv[c, 0] * w, uv[a, 1] * u + uv[b, 1] * v + uv[c, 1] * w
                going = gone[a] * u + gone[b] * v + gone[c] * w
                if going > 0.002:
                    if by_uv:
                        i, j, k = math.floor(tu * 120.0), math.floor(tv * 120.0), 0.0
                    else:
                        i = math.floor((local[a, 0] * u + local[b, 0] * v + local[c, 0] * w) * grain)
                        j = math.floor((local[a, 1] * u + local[b, 1] * v + local[c, 1] * w) * grain)
                        k = math.floor((local[a, 2] * u + local[b, 2] * v + local[c, 2] * w) * grain)
                    keep = math.sin(i * 12.9898 + j * 78.233 + k * 37.719) * 43758.5453
                    keep -= math.floor(keep)
                    if going > 0.998 or going > keep:
                        continue
                red, green, blue, opacity = colour[f, 0], colour[f, 1], colour[f, 2], alpha
                shown, s, t = True, tu, tv
                if pictured[f] or mapped[f] or thrown:
                    s = laid[a, 0] * u + laid[b, 0] * v + laid[c, 0] * w
                    t = laid[a, 1] * u + laid[b, 1] * v + laid[c, 1] * w
                    if thrown:
                        ahead = laid[a, 2] * u + laid[b, 2] * v + laid[c, 2] * w
                        s, t = s / max(ahead, 1e-9), t / max(ahead, 1e-9)
                        shown = ahead > 0.0 and 0.0 <= s <= 1.0 and 0.0 <= t <= 1.0
                if pictured[f] and shown:
                    r, g, bl, al = texel(texture, s, t)
                    if thrown:  # over its own colour
                        red = red * (1.0 - al) + r * al
                        green = green * (1.0 - al) + g * al
                        blue = blue * (1.0 - al) + bl * al
                    else:
                        red, green, blue, opacity = red * r, green * g, blue * bl, opacity * al
                rough, metal = surface[f, 0], surface[f, 1]
                glow = surface[f, 5]
                own_red = surface[f, 2] + red * glow
                own_green = surface[f, 3] + green * glow
                own_blue = surface[f, 4] + blue * glow
                if mapped[f] & 1 and shown:
                    r, g, bl, al = texel(rough_map, s, t)
                    rough, metal = rough * r, metal * al
                if mapped[f] & 2 and shown:
                    r, g, bl, al = texel(glow_map, s, t)
                    own_red, own_green, own_blue = own_red * r, own_green * g, own_blue * bl
                metal = 1.0 - (1.0 - metal) * (1.0 - surface[f, 6])
                if lit:
                    nx = normals[a, 0] * u + normals[b, 0] * v + normals[c, 0] * w
                    ny = normals[a, 1] * u + normals[b, 1] * v + normals[c, 1] * w
                    nz = normals[a, 2] * u + normals[b, 2] * v + normals[c, 2] * w
                    ex = views[a, 0] * u + views[b, 0] * v + views[c, 0] * w
                    ey = views[a, 1] * u + views[b, 1] * v + views[c, 1] * w
                    ez = views[a, 2] * u + views[b, 2] * v + views[c, 2] * w
                    lr, lg, lb, rim, _ = lit_by(nx, ny, nz, ex, ey, ez, lamps)
                    gr, gg, gb = 0.0, 0.0, 0.0
                    if rough < 1.0 or metal > 0.0:
                        plain = DIELECTRIC * (1.0 - metal)
                        gr, gg, gb = specular(
                            nx,
                            ny,
                            nz,
                            ex,
                            ey,
                            ez,
                            lamps,
                            min(max(rough, 0.0), 1.0),
                            plain + red * metal,
                            plain + green * metal,
                            plain + blue * metal,
                        )
                        red, green, blue = red * (1.0 - metal), green * (1.0 - metal), blue * (1.0 - metal)
                    red = red * lr + 0.09 * rim + gr
                    green = green * lg + 0.12 * rim + gg
                    blue = blue * lb + 0.14 * rim + gb
                red, green, blue = red + own_red, green + own_green, blue + own_blue
                rest = 1.0 - opacity
                picture[py, px, 0] = red * opacity + picture[py, px, 0] * rest
                picture[py, px, 1] = green * opacity + picture[py, px, 1] * rest
                picture[py, px, 2] = blue * opacity + picture[py, px, 2] * rest
                picture[py, px, 3] = opacity + picture[py, px, 3] * rest
                if hides and alpha >= 1.0 and opacity > 0.5:
                    depth[py, px] = far


def nothing_near(height: int, width: int) -> np.ndarray:
    """Return an empty depth buffer."""
    return np.full((height, width), np.inf)


@kernel(
    "void(float32[:,:,::1], float64[:,::1], float64[::1], float64[::1], float64[::1], int32[:,::1], float64[:,::1])"
)
def paint_values(picture, depth, x, y, away, faces, values):
    """Write values interpolated from points, (V, 3), and 1 into a picture (H, W, 4) where a triangle is no further than
    depth (H, W), metres.

    x, y, away, faces: as in `paint_triangles`. A pixel belongs to a triangle when its centre lies inside.
    """
    height, width = depth.shape
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        if away[a] < NEAR or away[b] < NEAR or away[c] < NEAR:
            continue
        area = (x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])
        if area == 0.0 or not math.isfinite(area):
            continue
        x0, x1 = max(0, math.floor(min(x[a], x[b], x[c]))), min(width - 1, math.ceil(max(x[a], x[b], x[c])))
        y0, y1 = max(0, math.floor(min(y[a], y[b], y[c]))), min(height - 1, math.ceil(max(y[a], y[b], y[c])))
        for py in range(y0, y1 + 1):
            cy = py + 0.5 + 2.71e-6
            for px in range(x0, x1 + 1):
                cx = px + 0.5 + 1.37e-6
                u = ((x[b] - cx) * (y[c] - cy) - (x[c] - cx) * (y[b] - cy)) / area
                v = ((x[c] - cx) * (y[a] - cy) - (x[a] - cx) * (y[c] - cy)) / area
                w = 1.0 - u - v
                if u < 0.0 or v < 0.0 or w < 0.0:
                    continue
                u, v, w = u / away[a], v / away[b], w / away[c]
                far = 1.0 / (u + v + w)
                if far > depth[py, px] * (1 + 1e-9):
                    continue
                for k in range(3):
                    picture[py, px, k] = (values[a, k] * u + values[b, k] * v + values[c, k] * w) * far
                picture[py, px, 3] = 1.0
