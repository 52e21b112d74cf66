"""Bodies: meshes placed, rotated and scaled at particles, painted triangle by triangle and lit like props.

Attributes are interpolated perspective-correctly by 1 / depth (Blinn, "Hyperbolic interpolation", IEEE CG&A 12, 1992).
A pixel belongs to a triangle when its centre lies inside.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from .compiled import kernel
from .compositing import blend_pixel
from .film import film_light, film_parameters
from .items import BLEND, COVER, CULLED, GLOSS, LIT, OFFSET, SHEET, SINCE, SOFT, TILES, TURNED
from .shading import LIGHTS, NO_LAMPS, Lights
from .shading import shade as lit_by
from .sheets import FAST

F32 = np.float32
NEAR = 0.02  # metres; triangles that reach nearer are left out


@dataclass(frozen=True)
class Bodies:
    """The bodies of a picture, concatenated layer by layer.

    stand: from a body's own space to eye space (x right, y up, z back), metres, (m, 12) float64, three rows of four.
    turn: the same for normals, (m, 9). form: first triangle and the one after the last, (m, 2) int64. corners:
    positions, normals and (u, v) of triangles, (T, 3, 8) float32. tint: linear colour, and 1 where the picture is used,
    (T, 4) float32. view: pixels a metre at a depth of one metre, and the middle of the view in pixels, (3,) float64.
    ball: bounding sphere of each body in its own space, centre and radius, (m, 4) float64. lamps: lights as `shading`
    has them.
    """

    stand: np.ndarray
    turn: np.ndarray
    form: np.ndarray
    corners: np.ndarray
    tint: np.ndarray
    view: np.ndarray
    ball: np.ndarray
    lamps: Lights = field(default_factory=lambda: NO_LAMPS)


NO_BODIES = Bodies(
    np.zeros((0, 12)),
    np.zeros((0, 9)),
    np.zeros((0, 2), np.int64),
    np.zeros((1, 3, 8), F32),
    np.zeros((1, 4), F32),
    np.zeros(3),
    np.zeros((0, 4)),
)


@kernel(error_model="numpy", _nrt=False)
def _project_corner(stand, b, corners, t, k, view):
    """Return the pixel position of a body's corner and its depth in metres."""
    px, py, pz = corners[t, k, 0], corners[t, k, 1], corners[t, k, 2]
    x = stand[b, 0] * px + stand[b, 1] * py + stand[b, 2] * pz + stand[b, 3]
    y = stand[b, 4] * px + stand[b, 5] * py + stand[b, 6] * pz + stand[b, 7]
    away = -(stand[b, 8] * px + stand[b, 9] * py + stand[b, 10] * pz + stand[b, 11])
    near = view[0] / max(away, NEAR)
    return view[1] + x * near, view[2] - y * near, away


_OPTIONS: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}
ARRAYS = (
    "float64[:,::1], float64[:,::1], int64[:,::1], float32[:,:,::1], float32[:,::1], float64[::1], "
    + LIGHTS
    + ", float32[:,::1], float32[:,::1], "
    "int32[:,::1], float32[::1], float32[:,::1], int64[:,::1], float32[:,:,::1]"
)  # of bodies and lamps, then light, traits, looks and reach of items, then sheets


@kernel(f"void(float32[:,:,::1], float64[:,::1], int64, int64, int64, int64, int64, boolean, {ARRAYS})", **_OPTIONS)
def body_triangle(
    picture,
    depth,
    first,
    last,
    i,
    lk,
    t,
    solid,
    stand,
    turn,
    form,
    corners,
    tint,
    view,
    lamps,
    light,
    traits,
    looks,
    reach,
    texels,
    info,
    plates,
):
    """Paint triangle t of the body of item i into the rows first..last - 1 of a picture. lk: the item's row in the
    table of looks.

    solid: the body hides what is behind it and writes its depth, (height, width) metres. Otherwise it is blended over
    the picture as its look says, wherever nothing nearer stands.
    """
    b = i - looks[lk, SINCE]
    xa, ya, za = _project_corner(stand, b, corners, t, 0, view)
    xb, yb, zb = _project_corner(stand, b, corners, t, 1, view)
    xc, yc, zc = _project_corner(stand, b, corners, t, 2, view)
    if za < NEAR or zb < NEAR or zc < NEAR:
        return
    area = (xb - xa) * (yc - ya) - (xc - xa) * (yb - ya)
    if area == 0.0 or not math.isfinite(area) or (looks[lk, CULLED] > 0 and area > 0.0):
        return
    width = picture.shape[1]
    x0, x1 = max(0, math.floor(min(xa, xb, xc))), min(width - 1, math.ceil(max(xa, xb, xc)))
    y0, y1 = max(first, math.floor(min(ya, yb, yc))), min(last - 1, math.ceil(max(ya, yb, yc)))
    if x1 < x0 or y1 < y0:
        return
    r0, g0, b0, opacity = light[i, 0], light[i, 1], light[i, 2], light[i, 3]
    r0, g0, b0 = r0 * tint[t, 0], g0 * tint[t, 1], b0 * tint[t, 2]
    lit = looks[lk, LIT] > 0
    gloss = looks[lk, GLOSS] / 1000.0
    blend = looks[lk, BLEND]
    cover = traits[i, COVER]
    soft = traits[i, SOFT]
    sheet = looks[lk, SHEET]
    pictured = sheet >= 0 and tint[t, 3] > F32(0.5)
    ua = corners[t, 0, 6]
    va = corners[t, 0, 7]
    ub = corners[t, 1, 6]
    vb = corners[t, 1, 7]
    uc = corners[t, 2, 6]
    vc = corners[t, 2, 7]
    cosine, sine, tiles_u, tiles_v = F32(1), F32(0), traits[i, TILES], traits[i, TILES + 1]
    level = 0
    if pictured:
        cosine, sine = F32(math.cos(traits[i, TURNED])), F32(math.sin(traits[i, TURNED]))
        texel = (
            abs((ub - ua) * (vc - va) - (uc - ua) * (vb - va))
            * abs(tiles_u * tiles_v)
            * plates[sheet, 0, 2]
            * plates[sheet, 0, 3]
        )
        dense = math.sqrt(texel / max(abs(area), 1e-6))  # texels a pixel
        while dense >= 2.0 and level < info[sheet, 3] - 1:
            dense *= 0.5
            level += 1
    film = film_parameters(info, plates, looks, lk, traits, i, reach, level)
    for py in range(y0, y1 + 1):
        cy = py + 0.5 + 2.71e-6  # no centre lies on an edge that two triangles share
        for px in range(x0, x1 + 1):
            cx = px + 0.5 + 1.37e-6
            u = ((xb - cx) * (yc - cy) - (xc - cx) * (yb - cy)) / area
            v = ((xc - cx) * (ya - cy) - (xa - cx) * (yc - cy)) / area
            w = 1.0 - u - v
            if u < 0.0 or v < 0.0 or w < 0.0:
                continue
            u, v, w = u / za, v / zb, w / zc
            far = 1.0 / (u + v + w)
            if depth.size > 0 and far >= depth[py, px]:
                continue
            u, v, w = u * far, v * far, w * far
            red, green, blue, c = r0, g0, b0, F32(1)
            if pictured:
                s, r = F32(ua * u + ub * v + uc * w) - F32(0.5), F32(va * u + vb * v + vc * w) - F32(0.5)
                tu = F32(0.5) + traits[i, OFFSET] + (s * cosine + r * sine) * tiles_u
                tv = F32(0.5) + traits[i, OFFSET + 1] + (r * cosine - s * sine) * tiles_v
                red, green, blue, c = film_light(texels, film, traits, i, tu, tv, r0, g0, b0)
                if c <= 0:
                    continue
            if lit:
                lx = corners[t, 0, 3] * u + corners[t, 1, 3] * v + corners[t, 2, 3] * w
                ly = corners[t, 0, 4] * u + corners[t, 1, 4] * v + corners[t, 2, 4] * w
                lz = corners[t, 0, 5] * u + corners[t, 1, 5] * v + corners[t, 2, 5] * w
                nx = turn[b, 0] * lx + turn[b, 1] * ly + turn[b, 2] * lz
                ny = turn[b, 3] * lx + turn[b, 4] * ly + turn[b, 5] * lz
                nz = turn[b, 6] * lx + turn[b, 7] * ly + turn[b, 8] * lz
                ex, ey, ez = -(px + 0.5 - view[1]) / view[0] * far, (py + 0.5 - view[2]) / view[0] * far, far
                lr, lg, lb, rim, gleam = lit_by(nx, ny, nz, ex, ey, ez, lamps)
                rim, gleam = rim * c, gleam * gloss * c
                red = red * F32(lr) + F32(0.09 * rim + gleam)
                green = green * F32(lg) + F32(0.12 * rim + gleam)
                blue = blue * F32(lb) + F32(0.14 * rim + gleam)
            if solid:
                picture[py, px, 0], picture[py, px, 1], picture[py, px, 2], picture[py, px, 3] = (
                    red,
                    green,
                    blue,
                    F32(1),
                )
                depth[py, px] = far
            else:
                red, green, blue, c = red * opacity, green * opacity, blue * opacity, c * opacity
                if depth.size > 0 and soft > 0:
                    before = F32(depth[py, px] - far)
                    if before < soft:
                        k = before / soft
                        red, green, blue, c = red * k, green * k, blue * k, c * k
                blend_pixel(picture, py, px, red, green, blue, c, cover, blend)


@kernel(f"void(float32[:,:,::1], float64[:,::1], int64, int64, int64[::1], int32[::1], {ARRAYS})", **_OPTIONS)
def paint_solid(
    picture,
    depth,
    first,
    last,
    which,
    look,
    stand,
    turn,
    form,
    corners,
    tint,
    view,
    lamps,
    light,
    traits,
    looks,
    reach,
    texels,
    info,
    plates,
):
    """Paint the bodies of some items into the rows first..last - 1 of a picture and its depth buffer, with a depth
    test."""
    for n in range(which.size):
        i = which[n]
        lk = look[i]
        b = i - looks[lk, SINCE]
        for t in range(form[b, 0], form[b, 1]):
            body_triangle(
                picture,
                depth,
                first,
                last,
                i,
                lk,
                t,
                True,
                stand,
                turn,
                form,
                corners,
                tint,
                view,
                lamps,
                light,
                traits,
                looks,
                reach,
                texels,
                info,
                plates,
            )


@kernel(
    "void(int64[::1], int32[::1], int32[:,::1], float64[:,::1], int64[:,::1], float32[:,:,::1], float64[::1], "
    "int64[::1], int64[::1], "
    "float64[:,::1])",
    **_OPTIONS,
)
def list_triangles(which, look, looks, stand, form, corners, view, item, face, seen):
    """Write the triangles of the bodies of some items.

    item, face: the item and triangle of each, (k,). seen: depth of the triangle's centre in metres (not finite where
    the triangle is too near), first and last row in pixels, (k, 3).
    """
    at = 0
    for n in range(which.size):
        i = which[n]
        b = i - looks[look[i], SINCE]
        for t in range(form[b, 0], form[b, 1]):
            _, ya, za = _project_corner(stand, b, corners, t, 0, view)
            _, yb, zb = _project_corner(stand, b, corners, t, 1, view)
            _, yc, zc = _project_corner(stand, b, corners, t, 2, view)
            item[at], face[at] = i, t
            seen[at, 0] = (za + zb + zc) / 3.0 if min(za, zb, zc) >= NEAR else math.inf
            seen[at, 1], seen[at, 2] = min(ya, yb, yc), max(ya, yb, yc)
            at += 1
