"""Particles painted into a linear-light, premultiplied picture. Compositing: Porter and Duff, SIGGRAPH 1984."""

from __future__ import annotations

import math
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np

from .bodies import NEAR, NO_BODIES, Bodies, body_triangle, list_triangles, paint_solid
from .compiled import kernel
from .compositing import TELLS, blend_pixel
from .film import film_light, film_parameters
from .items import (
    AWAY,
    BLEND,
    COVER,
    ENDS,
    FIRST_PIECE,
    HALVES,
    HARD,
    KIND,
    LAID,
    LAST_PIECE,
    LIES,
    LIGHT,
    OFFSET,
    PICTURE,
    PIECE,
    SHEET,
    SINCE,
    SOFT,
    TILES,
    TURNED,
    WIDE,
    Items,
)
from .shading import LIGHTS
from .sheets import FAST, NO_SHEETS, REPEAT, Sheets, cell_at, level_of, read_cell

F32 = np.float32
MIN_PIXELS_FOR_THREADS = 100_000  # pixels painted in all, from which on threads share them
BANDS = 24  # at most, of the picture: threads take one after the other


@dataclass(frozen=True)
class BodyTriangles:
    """Triangles of bodies that are painted in depth order among items: item and triangle of each, (k,) int64; depth,
    first and last row, (k, 3)."""

    item: np.ndarray
    face: np.ndarray
    seen: np.ndarray


def triangles_of_bodies(items: Items, which: np.ndarray, bodies: Bodies) -> BodyTriangles:
    """Return all triangles of the bodies of some items (m,)."""
    which = np.ascontiguousarray(which, np.int64)
    of = bodies.form[which - items.looks[items.look[which], SINCE]]
    count = int((of[:, 1] - of[:, 0]).sum())
    opened_bodies = BodyTriangles(np.empty(count, np.int64), np.empty(count, np.int64), np.empty((count, 3)))
    list_triangles(
        which,
        items.look,
        items.looks,
        bodies.stand,
        bodies.form,
        bodies.corners,
        bodies.view,
        opened_bodies.item,
        opened_bodies.face,
        opened_bodies.seen,
    )
    return opened_bodies


NO_BODY_TRIANGLES = BodyTriangles(np.empty(0, np.int64), np.empty(0, np.int64), np.empty((0, 3)))


def paint_bodies(
    picture: np.ndarray, depth: np.ndarray, items: Items, which: np.ndarray, bodies: Bodies, sheets: Sheets = NO_SHEETS
) -> None:
    """Paint the bodies of some items (m,) with a depth test into a picture (as in `paint`) and depth, (height, width)
    float64 metres."""
    height = picture.shape[0]
    rows = which - items.looks[items.look[which], SINCE]
    form = bodies.form[rows]
    middle, reach = bodies.ball[rows, :3], bodies.ball[rows, 3]
    stand = bodies.stand[rows].reshape(-1, 3, 4)
    seen = np.einsum("nij,nj->ni", stand[:, :, :3], middle) + stand[:, :, 3]
    reach = reach * np.linalg.norm(stand[:, :, :3], axis=1).max(axis=1)
    away = -seen[:, 2]
    near = bodies.view[0] / np.maximum(away - reach, NEAR)
    top, bottom = (
        bodies.view[2] - seen[:, 1] * bodies.view[0] / np.maximum(away, NEAR) + side * reach * near * 1.1 + side
        for side in (-1, 1)
    )
    whole = away - reach < NEAR
    top, bottom = np.where(whole, 0, top), np.where(whole, height, bottom)
    shown = (bottom > 0) & (top < height) & (away + reach > NEAR) & (form[:, 1] > form[:, 0])
    which, top, bottom = np.ascontiguousarray(which[shown], np.int64), top[shown], bottom[shown]

    def band(first: int, last: int) -> None:
        here = which[(bottom > first) & (top < last)]
        paint_solid(
            picture,
            depth,
            first,
            last,
            here,
            items.look,
            bodies.stand,
            bodies.turn,
            bodies.form,
            bodies.corners,
            bodies.tint,
            bodies.view,
            bodies.lamps,
            items.light,
            items.traits,
            items.looks,
            items.reach,
            sheets.texels,
            sheets.info,
            sheets.plates,
        )

    paint_in_bands(band, height, len(which) > 8)


def paint(
    picture: np.ndarray,
    items: Items,
    order: np.ndarray,
    sheets: Sheets = NO_SHEETS,
    nearest: np.ndarray | None = None,
    bodies: Bodies = NO_BODIES,
    opened: BodyTriangles = NO_BODY_TRIANGLES,
) -> None:
    """Paint items into a picture, (height, width, 4) float32, linear light premultiplied by alpha.

    order: item indices from back to front. nearest: depth of what hides items, (height, width) metres. An item's
    coverage is its look's at (a, b), -1 to 1 across and up (docs/LOOKS.md). opened: triangles of bodies, which stand in
    order too, numbered from the number of items on.
    """
    height, count = picture.shape[0], len(items.place)
    items_alone = order[order < count]
    pieces = items.looks[items.look[items_alone], KIND] == PIECE
    lively = (items.light[items_alone, 3] > 0) | (pieces & (items.traits[items_alone, LIGHT + 3] > 0))
    lively &= np.isfinite(items.axes[items_alone]).all(axis=1)
    half = (
        np.abs(items.axes[items_alone][:, 1::2]).sum(axis=1) + 1 + pieces * np.abs(items.traits[items_alone, WIDE + 1])
    )
    if len(opened.item):  # both kinds, each by its own rows
        whose = order >= count
        top, bottom, keep = np.empty(len(order)), np.empty(len(order)), np.ones(len(order), bool)
        top[~whose] = items.place[items_alone, 1] - half
        bottom[~whose] = items.place[items_alone, 1] + half
        keep[~whose] = lively
        top[whose], bottom[whose] = opened.seen[order[whose] - count, 1] - 1, opened.seen[order[whose] - count, 2] + 1
    else:
        top, bottom, keep = items.place[items_alone, 1] - half, items.place[items_alone, 1] + half, lively
    shown = keep & (bottom > 0) & (top < height)
    order, top, bottom = order[shown].astype(np.int64), top[shown], bottom[shown]
    if not len(order):
        return
    depth = np.ascontiguousarray(nearest, np.float64) if nearest is not None else np.empty((0, 0))

    def band(first: int, last: int) -> None:
        here = order[(bottom > first) & (top < last)]
        _paint(
            picture,
            first,
            last,
            here,
            items.place,
            items.axes,
            items.light,
            items.traits,
            items.look,
            items.looks,
            items.reach,
            sheets.texels,
            sheets.info,
            sheets.plates,
            depth,
            opened.item,
            opened.face,
            bodies.stand,
            bodies.turn,
            bodies.form,
            bodies.corners,
            bodies.tint,
            bodies.view,
            bodies.lamps,
        )

    alone = order[order < count]
    lines = items.looks[items.look[alone], KIND] == PIECE
    wide, tall = (
        np.abs(items.axes[alone][:, k::2]).sum(axis=1) * 2 + lines * np.abs(items.traits[alone, WIDE + k])
        for k in (0, 1)
    )
    most = float((np.minimum(wide, picture.shape[1]) * np.minimum(tall, height)).sum())
    paint_in_bands(band, height, most >= MIN_PIXELS_FOR_THREADS or len(opened.item) > 500)


def paint_in_bands(band: Callable[[int, int], None], height: int, shared: bool) -> None:
    """Paint a picture band by band; shared: threads take one band after the other."""
    edges = np.unique(np.linspace(0, height, min(BANDS, max(1, height // 24)) + 1).astype(int))
    spans = list(zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True))
    if not shared or len(spans) < 2:
        for first, last in spans:
            band(first, last)
        return
    for job in [_pool().submit(band, *span) for span in spans]:
        job.result()


_pools: list[ThreadPoolExecutor] = []


def _pool() -> ThreadPoolExecutor:
    if not _pools:
        _pools.append(ThreadPoolExecutor(min(os.cpu_count() or 1, 8), thread_name_prefix="painting"))
    return _pools[0]


@kernel(fastmath=FAST, error_model="numpy", inline="always", _nrt=False)
def _coverage_at(far, full):
    """Return the coverage, 0 to 1, at a distance from the middle: 1 up to `full`, and (1 - q²)² from there to the
    edge."""
    if full > 0:
        far = max(far - full, F32(0)) / (F32(1) - full)
    k = F32(1) - far * far
    return k * k


@kernel(fastmath=FAST, error_model="numpy", inline="always", _nrt=False)
def _share_along_segment(qx, qy, wx, wy, nx, ny, mx, my, side):
    """Return the position of a point along a segment of a line, 0 to 1.

    The segment's cross lines go from direction (nx, ny) at its start to (mx, my) at its end while its middle moves
    along (wx, wy). qx, qy: the point relative to the start's middle. side: the sign of the turn from (wx, wy) to (nx,
    ny).
    """
    dx, dy = mx - nx, my - ny
    a = wy * dx - wx * dy
    b = (qx * dy - qy * dx) - (wx * ny - wy * nx)
    c = qx * ny - qy * nx
    root = math.sqrt(max(b * b - F32(4) * a * c, F32(0)))
    # of the two places where this is nought, the one between the first line and the last; without a difference of like
    # numbers
    s = F32(2) * c / (side * root - b) if b * side <= 0 else (-b - side * root) / (F32(2) * a)
    return min(max(s, F32(0)), F32(1))


# what is inlined here counts no references to arrays: counting them at every pixel took two thirds of the time
_OPTIONS: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}


@kernel(
    "void(float32[:,:,::1], int64, int64, int64[::1], float32[:,::1], float32[:,::1], float32[:,::1], float32[:,::1], "
    "int32[::1], "
    "int32[:,::1], float32[::1], float32[:,::1], int64[:,::1], float32[:,:,::1], float64[:,::1], int64[::1], "
    "int64[::1], float64[:,::1], "
    f"float64[:,::1], int64[:,::1], float32[:,:,::1], float32[:,::1], float64[::1], {LIGHTS})",
    **_OPTIONS,
)
def _paint(
    picture,
    first,
    last,
    order,
    place,
    axes,
    light,
    traits,
    which,
    looks,
    reach,
    texels,
    info,
    plates,
    nearest,
    item,
    face,
    stand,
    turn,
    form,
    corners,
    tint,
    view,
    lamps,
):
    """Paint items into the rows first..last - 1 of a picture, in order. Numbers from the number of items on are
    triangles of bodies; item and face name the item and triangle of each."""
    width = picture.shape[1]
    for n in range(order.size):
        i = order[n]
        if i >= place.shape[0]:
            t = i - place.shape[0]
            body_triangle(
                picture,
                nearest,
                first,
                last,
                item[t],
                which[item[t]],
                face[t],
                False,
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
            continue
        x, y, away = place[i, 0], place[i, 1], place[i, 2]
        ux, uy, vx, vy = axes[i, 0], axes[i, 1], axes[i, 2], axes[i, 3]
        reach_x, reach_y = abs(ux) + abs(vx), abs(uy) + abs(vy)
        lk = which[i]
        kind, blend = looks[lk, KIND], looks[lk, BLEND]
        if kind == PIECE:
            reach_x += abs(traits[i, WIDE])
            reach_y += abs(traits[i, WIDE + 1])
        if x + reach_x < 0 or x - reach_x > width:
            continue
        x0, x1 = max(0, math.floor(x - reach_x)), min(width - 1, math.ceil(x + reach_x))
        y0, y1 = max(first, math.floor(y - reach_y)), min(last - 1, math.ceil(y + reach_y))
        r0, g0, b0, opacity = light[i, 0], light[i, 1], light[i, 2], light[i, 3]
        full, cover, soft = traits[i, HARD], traits[i, COVER], traits[i, SOFT]
        if kind == PIECE:
            mx, my = traits[i, WIDE], traits[i, WIDE + 1]
            bends, bends_far = ux * vy - uy * vx, ux * my - uy * mx
            first_side, last_side = F32(1) if bends >= 0 else F32(-1), F32(1) if bends_far >= 0 else F32(-1)
            long = math.hypot(ux, uy)
            if long == 0:
                continue
            dr = traits[i, LIGHT] - r0
            dg = traits[i, LIGHT + 1] - g0
            db = traits[i, LIGHT + 2] - b0
            da = traits[i, LIGHT + 3] - opacity
            u0 = traits[i, LIES]
            du = traits[i, LIES + 1] - traits[i, LIES]
            h0 = traits[i, HALVES]
            dh = traits[i, HALVES + 1] - traits[i, HALVES]
            on, ends = traits[i, AWAY] - away, int(traits[i, ENDS])
            sheet = looks[lk, SHEET]
            here, start, width_ = (F32(0), F32(0), F32(0), F32(0)), 0, 0
            if sheet >= 0:
                level = level_of(info, plates, sheet, du, F32(1), long, F32(2) * max(h0, h0 + dh))
                here, start, width_ = cell_at(info, plates, sheet, level, 0), info[sheet, 0], info[sheet, 1]
            for py in range(y0, y1 + 1):
                qy = F32(py) + F32(0.5) - y
                for px in range(x0, x1 + 1):
                    qx = F32(px) + F32(0.5) - x
                    if (qx * vy - qy * vx) * first_side < 0 or ((qx - ux) * my - (qy - uy) * mx) * last_side >= 0:
                        continue
                    s = _share_along_segment(qx, qy, ux, uy, vx, vy, mx, my, first_side)
                    nx, ny = vx + s * (mx - vx), vy + s * (my - vy)
                    side = ((qx - s * ux) * nx + (qy - s * uy) * ny) / (nx * nx + ny * ny)
                    if abs(side) >= F32(1):
                        continue
                    before = F32(1e30)
                    if nearest.size > 0:
                        before = F32(nearest[py, px] - (away + s * on))
                        if before < 0:
                            continue
                    c = (opacity + s * da) * _coverage_at(
                        abs(side), min(full, max(F32(0), F32(1) - F32(1.5) / (h0 + s * dh)))
                    )
                    if ends & FIRST_PIECE:
                        c *= min(F32(1), s * long * F32(0.6667))
                    if ends & LAST_PIECE:
                        c *= min(F32(1), (F32(1) - s) * long * F32(0.6667))
                    red, green, blue = (r0 + s * dr) * c, (g0 + s * dg) * c, (b0 + s * db) * c
                    if sheet >= 0:
                        p = read_cell(texels, start, width_, here, u0 + s * du, (side + F32(1)) * F32(0.5), REPEAT)
                        if blend == TELLS:
                            red, green, blue, c = red * p[3], green * p[3], blue * p[3], c * p[3]
                        else:
                            red, green, blue, c = red * p[0], green * p[1], blue * p[2], c * p[3]
                    if before < soft:
                        k = before / soft
                        red, green, blue, c = red * k, green * k, blue * k, c * k
                    blend_pixel(picture, py, px, red, green, blue, c, cover, blend)
            continue
        area = ux * vy - uy * vx
        if area == 0:
            continue
        ux, uy, vx, vy = ux / area, uy / area, vx / area, vy / area
        tiles_u, tiles_v, from_u, from_v, cosine, sine = F32(1), F32(1), F32(0), F32(0), F32(1), F32(0)
        s0 = sa = sb = t0 = ta = tb = F32(0)
        level = 0
        if kind == PICTURE:
            tiles_u = traits[i, TILES]
            tiles_v = traits[i, TILES + 1]
            from_u = traits[i, OFFSET]
            from_v = traits[i, OFFSET + 1]
            wide, tall = math.hypot(axes[i, 0], axes[i, 1]) * F32(2), math.hypot(axes[i, 2], axes[i, 3]) * F32(2)
            s0 = traits[i, LAID]
            sa = traits[i, LAID + 1]
            sb = traits[i, LAID + 2]
            t0 = traits[i, LAID + 3]
            ta = traits[i, LAID + 4]
            tb = traits[i, LAID + 5]
            ratio = wide / max(tall, F32(1e-6))
            level = level_of(
                info,
                plates,
                looks[lk, SHEET],
                tiles_u * math.hypot(F32(2) * sa, F32(2) * sb * ratio),
                tiles_v * math.hypot(F32(2) * tb, F32(2) * ta / ratio),
                wide,
                tall,
            )
            cosine, sine = F32(math.cos(traits[i, TURNED])), F32(math.sin(traits[i, TURNED]))
        film = film_parameters(info, plates, looks, lk, traits, i, reach, level)
        for py in range(y0, y1 + 1):
            dy = F32(py) + F32(0.5) - y
            for px in range(x0, x1 + 1):
                dx = F32(px) + F32(0.5) - x
                a, b = dx * vy - dy * vx, dy * ux - dx * uy
                before = F32(1e30)
                if nearest.size > 0:
                    before = F32(nearest[py, px] - away)
                    if before < 0:
                        continue
                if kind == PICTURE:
                    if abs(a) > F32(1) or abs(b) > F32(1):
                        continue
                    s, r = s0 + a * sa + b * sb, t0 + a * ta + b * tb
                    u = F32(0.5) + from_u + (s * cosine + r * sine) * tiles_u
                    v = F32(0.5) + from_v + (r * cosine - s * sine) * tiles_v
                    red, green, blue, c = film_light(texels, film, traits, i, u, v, r0, g0, b0)
                    if c <= 0:
                        continue
                    red, green, blue, c = red * opacity, green * opacity, blue * opacity, c * opacity
                else:
                    square = a * a + b * b
                    if square >= F32(1):
                        continue
                    c = opacity * _coverage_at(math.sqrt(square), full)
                    red, green, blue = r0 * c, g0 * c, b0 * c
                if before < soft:
                    k = before / soft
                    red, green, blue, c = red * k, green * k, blue * k, c * k
                blend_pixel(picture, py, px, red, green, blue, c, cover, blend)
