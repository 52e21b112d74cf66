"""Bodies: meshes that stand, turned and sized, where particles are, painted triangle by triangle, lit as props are.

Perspective-correct by 1 / depth (Blinn, "Hyperbolic interpolation", IEEE CG&A 12, 1992); a pixel belongs to a triangle when its centre lies inside.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from .compiled import kernel
from .compositing import meet
from .film import film_of, filmed
from .items import BLEND, COVER, CULLED, GLOSS, LIT, OFFSET, SHEET, SINCE, SOFT, TILES, TURNED
from .shading import LIGHTS, NO_LAMPS, Lights
from .shading import lit as lit_by
from .sheets import FAST

F32 = np.float32
NEAR = 0.02  # metres; triangles that reach nearer are left out


@dataclass(frozen=True)
class Bodies:
    """Bodies of a picture, those of one layer behind the other.

    stand: from a body's own space to the eye's (x right, y up, z back), metres, (m, 12) float64, three rows of four. turn: of normals,
    (m, 9). form: its first triangle and the one after its last, (m, 2) int64. corners: places, normals and (u, v) of triangles, (T, 3, 8)
    float32; tint: linear colour, and 1 where the picture shows, (T, 4) float32. view: pixels a metre at one metre's depth,
    and where the middle of the view is, pixels, (3,) float64. ball: about each body, in its own space: its middle and its radius, (m, 4) float64.
    lamps: as of `shading`.
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
def _seen(stand, b, corners, t, k, view):
    """Return where a corner of a body is in the picture, pixels, and how far away, metres."""
    px, py, pz = corners[t, k, 0], corners[t, k, 1], corners[t, k, 2]
    x = stand[b, 0] * px + stand[b, 1] * py + stand[b, 2] * pz + stand[b, 3]
    y = stand[b, 4] * px + stand[b, 5] * py + stand[b, 6] * pz + stand[b, 7]
    away = -(stand[b, 8] * px + stand[b, 9] * py + stand[b, 10] * pz + stand[b, 11])
    near = view[0] / max(away, NEAR)
    return view[1] + x * near, view[2] - y * near, away


_UNCOUNTED: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}
ARRAYS = (
    "float64[:,::1], float64[:,::1], int64[:,::1], float32[:,:,::1], float32[:,::1], float64[::1], "
    + LIGHTS
    + ", float32[:,::1], float32[:,::1], "
    "int32[:,::1], float32[::1], float32[:,::1], int64[:,::1], float32[:,:,::1]"
)  # of bodies and lamps, then light, traits, looks and reach of items, then sheets


@kernel(f"void(float32[:,:,::1], float64[:,::1], int64, int64, int64, int64, int64, boolean, {ARRAYS})", **_UNCOUNTED)
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
    """Paint triangle t of the body of item i, drawn by row lk of the table of looks, into the rows first..last - 1 of a picture.

    solid: it hides what is behind it, and writes how far away it is into depth, (height, width) metres; else it is laid over what is there, as its
    look's blending says, where nothing nearer stands.
    """
    b = i - looks[lk, SINCE]
    xa, ya, za = _seen(stand, b, corners, t, 0, view)
    xb, yb, zb = _seen(stand, b, corners, t, 1, view)
    xc, yc, zc = _seen(stand, b, corners, t, 2, view)
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
    lit, gloss, blend, cover, soft, sheet = (
        looks[lk, LIT] > 0,
        looks[lk, GLOSS] / 1000.0,
        looks[lk, BLEND],
        traits[i, COVER],
        traits[i, SOFT],
        looks[lk, SHEET],
    )
    pictured = sheet >= 0 and tint[t, 3] > F32(0.5)
    ua, va, ub, vb, uc, vc = (
        corners[t, 0, 6],
        corners[t, 0, 7],
        corners[t, 1, 6],
        corners[t, 1, 7],
        corners[t, 2, 6],
        corners[t, 2, 7],
    )
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
    film = film_of(info, plates, looks, lk, traits, i, reach, level)
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
                red, green, blue, c = filmed(texels, film, traits, i, tu, tv, r0, g0, b0)
                if c <= 0:
                    continue
            if lit:
                lx, ly, lz = (
                    corners[t, 0, 3] * u + corners[t, 1, 3] * v + corners[t, 2, 3] * w,
                    corners[t, 0, 4] * u + corners[t, 1, 4] * v + corners[t, 2, 4] * w,
                    corners[t, 0, 5] * u + corners[t, 1, 5] * v + corners[t, 2, 5] * w,
                )
                nx = turn[b, 0] * lx + turn[b, 1] * ly + turn[b, 2] * lz
                ny = turn[b, 3] * lx + turn[b, 4] * ly + turn[b, 5] * lz
                nz = turn[b, 6] * lx + turn[b, 7] * ly + turn[b, 8] * lz
                ex, ey, ez = -(px + 0.5 - view[1]) / view[0] * far, (py + 0.5 - view[2]) / view[0] * far, far
                lr, lg, lb, rim, gleam = lit_by(nx, ny, nz, ex, ey, ez, lamps)
                rim, gleam = rim * c, gleam * gloss * c
                red, green, blue = (
                    red * F32(lr) + F32(0.09 * rim + gleam),
                    green * F32(lg) + F32(0.12 * rim + gleam),
                    blue * F32(lb) + F32(0.14 * rim + gleam),
                )
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
                meet(picture, py, px, red, green, blue, c, cover, blend)


@kernel(f"void(float32[:,:,::1], float64[:,::1], int64, int64, int64[::1], int32[::1], {ARRAYS})", **_UNCOUNTED)
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
    """Paint the bodies of some items, all that of them is nearer than what stands there, into the rows first..last - 1 of a picture and of depth."""
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
    "void(int64[::1], int32[::1], int32[:,::1], float64[:,::1], int64[:,::1], float32[:,:,::1], float64[::1], int64[::1], int64[::1], "
    "float64[:,::1])",
    **_UNCOUNTED,
)
def laid_open(which, look, looks, stand, form, corners, view, item, face, seen):
    """Write the triangles of the bodies of some items, one behind the other: item and face say whose and which each is, and seen how far away its
    middle is, metres (not finite where it reaches too near), and between which rows it lies, pixels, (k, 3)."""
    at = 0
    for n in range(which.size):
        i = which[n]
        b = i - looks[look[i], SINCE]
        for t in range(form[b, 0], form[b, 1]):
            _, ya, za = _seen(stand, b, corners, t, 0, view)
            _, yb, zb = _seen(stand, b, corners, t, 1, view)
            _, yc, zc = _seen(stand, b, corners, t, 2, view)
            item[at], face[at] = i, t
            seen[at, 0] = (za + zb + zc) / 3.0 if min(za, zb, zc) >= NEAR else math.inf
            seen[at, 1], seen[at, 2] = min(ya, yb, yc), max(ya, yb, yc)
            at += 1
