"""Particles painted into a linear-light, premultiplied picture; compositing by Porter and Duff, SIGGRAPH 1984."""

from __future__ import annotations

import math
import os
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

F32 = np.float32
DISC, PICTURE, PIECE = 0, 1, 2
COVERS, SCREENS, MULTIPLIES = 0, 1, 2  # how colours meet what lies behind
END, HOLD, REPEAT, MIRROR = 0, 1, 2, 3
FAST = {"contract", "arcp", "nsz"}
LEAST = 0.75  # pixels: nothing is drawn thinner than twice this; it is as much fainter
# traits of an item: how much it hides of its opacity, over how many metres it fades into what it cuts, and what its kind needs
COVER, SOFT, HARD, PAGE, TILES, OFFSET, TURNED, CUT, RIM_COLOUR, MIX, TONED, DARK, BRIGHT, LAID, TRAITS = (
    0,
    1,
    2,
    2,
    3,
    5,
    7,
    8,
    11,
    14,
    15,
    16,
    19,
    22,
    28,
)
SPREAD = (0.0, 0.5, 0.0, 0.0, 0.0, 0.5)  # LAID of a picture that lies on its item: where (a, b) is from its middle, across and up, in shares of it
# of a piece of a line, in place of what pictures need: half of the band's width at its far end, as a vector; colour and opacity there; where the
# picture lies at both ends; half of the width at both, pixels; how far away its far end is, metres; whether it is the first or last of its line
WIDE, LIGHT, LIES, HALVES, AWAY, ENDS = 3, 5, 9, 11, 13, 14
FIRST_PIECE, LAST_PIECE = 1, 2
# columns of the table of looks: `Sheets` by number, -1 for none
KIND, BLEND, SHEET, MOTION, CUTTER, MIXED, PAGES, FIRST, LAST, REPEATS, EDGES, COLUMNS = 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11
WORTH_IT = 100_000  # pixels painted in all, from which on threads share them
BANDS = 24  # at most, of the picture: threads take one after the other


@dataclass(frozen=True)
class Sheets:
    """Sheets of pictures (`geometry.sheet.Sheet`) one after the other. texels: (N, 4); start, width, across, levels: (S, 4) int64 of each;
    plates: (S, 12, 4)."""

    texels: np.ndarray
    info: np.ndarray
    plates: np.ndarray


NO_SHEETS = Sheets(np.zeros((1, 4), F32), np.zeros((1, 4), np.int64), np.zeros((1, 12, 4), F32))


@dataclass(frozen=True)
class Items:
    """What is painted, in no order. place: x, y in pixels and how far away, metres, (n, 3); axes: half of its width to its right and half of its
    height upward, pixels, (n, 4), of a piece of a line the way to its far end and half of its width; light: linear colour
    and opacity, (n, 4); traits: (n, TRAITS); look: which row of `looks` each is drawn by, (n,)
    int32; looks: (L, COLUMNS) int32; reach: (L,) of a page's width that full motion goes."""

    place: np.ndarray
    axes: np.ndarray
    light: np.ndarray
    traits: np.ndarray
    look: np.ndarray
    looks: np.ndarray
    reach: np.ndarray


def blank_items(n: int, kind: int = DISC) -> Items:
    """Return items of one look, all nought but for covering all."""
    looks = np.full((1, COLUMNS), -1, np.int32)
    looks[0] = (kind, COVERS, -1, -1, -1, -1, 1, 0, 0, 0, END)
    traits = np.zeros((n, TRAITS), F32)
    traits[:, COVER] = 1
    traits[:, LAID:] = SPREAD
    return Items(np.zeros((n, 3), F32), np.zeros((n, 4), F32), np.zeros((n, 4), F32), traits, np.zeros(n, np.int32), looks, np.zeros(1, F32))


def paint(picture: np.ndarray, items: Items, order: np.ndarray, sheets: Sheets = NO_SHEETS, nearest: np.ndarray | None = None) -> None:
    """Paint items in an order, indices from back to front, into a picture (height, width, 4) float32: linear light, premultiplied by alpha.

    nearest: how far away what hides them is, (height, width) metres. An item's coverage is that of its look at its own (a, b), -1 to 1 across
    and up (docs/LOOKS.md).
    """
    height = picture.shape[0]
    pieces = items.looks[items.look[order], KIND] == PIECE
    lively = (items.light[order, 3] > 0) | (pieces & (items.traits[order, LIGHT + 3] > 0))
    lively &= np.isfinite(items.axes[order]).all(axis=1)
    order, pieces = order[lively].astype(np.int64), pieces[lively]
    half = np.abs(items.axes[order][:, 1::2]).sum(axis=1) + 1 + pieces * np.abs(items.traits[order, WIDE + 1])
    top, bottom = items.place[order, 1] - half, items.place[order, 1] + half
    shown = (bottom > 0) & (top < height)
    order, pieces, top, bottom = order[shown], pieces[shown], top[shown], bottom[shown]
    if not len(order):
        return
    depth = np.ascontiguousarray(nearest, np.float64) if nearest is not None else np.empty((0, 0))
    edges = np.unique(np.linspace(0, height, min(BANDS, max(1, height // 24)) + 1).astype(int))

    def band(first: int, last: int) -> None:
        here = order[(bottom > first) & (top < last)]
        _paint(picture, first, last, here, items.place, items.axes, items.light, items.traits, items.look, items.looks, items.reach,
               sheets.texels, sheets.info, sheets.plates, depth)  # fmt: skip

    spans = list(zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True))
    wide, tall = (np.abs(items.axes[order][:, k::2]).sum(axis=1) * 2 + pieces * np.abs(items.traits[order, WIDE + k]) for k in (0, 1))
    if float((np.minimum(wide, picture.shape[1]) * np.minimum(tall, height)).sum()) < WORTH_IT or len(spans) < 2:
        for first, last in spans:
            band(first, last)
        return
    for made in [_pool().submit(band, *span) for span in spans]:
        made.result()


_pools: list[ThreadPoolExecutor] = []


def _pool() -> ThreadPoolExecutor:
    if not _pools:
        _pools.append(ThreadPoolExecutor(min(os.cpu_count() or 1, 8), thread_name_prefix="painting"))
    return _pools[0]


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _texel(texels, start, width, x, y):
    """Return what lies at (x, y) of a sheet, in texels, between the centres of four."""
    x0, y0 = math.floor(x - F32(0.5)), math.floor(y - F32(0.5))
    fx, fy = x - F32(0.5) - F32(x0), y - F32(0.5) - F32(y0)
    at = start + max(y0, 0) * width + max(x0, 0)
    below = at + width
    p, q, r, s = (F32(1) - fx) * (F32(1) - fy), fx * (F32(1) - fy), (F32(1) - fx) * fy, fx * fy
    return (texels[at, 0] * p + texels[at + 1, 0] * q + texels[below, 0] * r + texels[below + 1, 0] * s,
            texels[at, 1] * p + texels[at + 1, 1] * q + texels[below, 1] * r + texels[below + 1, 1] * s,
            texels[at, 2] * p + texels[at + 1, 2] * q + texels[below, 2] * r + texels[below + 1, 2] * s,
            texels[at, 3] * p + texels[at + 1, 3] * q + texels[below, 3] * r + texels[below + 1, 3] * s)  # fmt: skip


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _cell(info, plates, sheet, level, cell):
    """Return where a cell of a sheet begins at a level of halves, and how wide and tall it is, all in texels; nought where there is no sheet."""
    if sheet < 0:
        return F32(0), F32(0), F32(0), F32(0)
    level = min(level, info[sheet, 3] - 1)
    row = cell // info[sheet, 2]
    column = cell - row * info[sheet, 2]
    wide, tall = plates[sheet, level, 2], plates[sheet, level, 3]
    x, y = plates[sheet, level, 0] + F32(column) * (wide + F32(2)) + F32(1), plates[sheet, level, 1] + F32(row) * (tall + F32(2)) + F32(1)
    return x, y, wide, tall


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _read(texels, start, width, cell, u, v, edges):
    """Return what a cell (of `_cell`) shows at (u, v), v up; beyond 0 to 1 as its edges say. start, width: of its sheet."""
    if edges == END:
        if u < 0 or u > 1 or v < 0 or v > 1:
            return F32(0), F32(0), F32(0), F32(0)
    elif edges == HOLD:
        u, v = min(max(u, F32(0)), F32(1)), min(max(v, F32(0)), F32(1))
    elif edges == REPEAT:
        u, v = u - F32(math.floor(u)), v - F32(math.floor(v))
    else:
        u, v = abs(u - F32(2 * math.floor(u * F32(0.5) + F32(0.5)))), abs(v - F32(2 * math.floor(v * F32(0.5) + F32(0.5))))
    return _texel(texels, start, width, cell[0] + u * cell[2], cell[1] + (F32(1) - v) * cell[3])


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _level(info, plates, sheet, tiles_u, tiles_v, wide, tall):
    """Return which halves of a sheet to read so that one texel is at least half a pixel: of a picture `wide` by `tall` pixels."""
    dense = max(plates[sheet, 0, 2] * abs(tiles_u) / max(wide, F32(1e-6)), plates[sheet, 0, 3] * abs(tiles_v) / max(tall, F32(1e-6)))
    level = 0
    while dense >= F32(2) and level < info[sheet, 3] - 1:
        dense *= F32(0.5)
        level += 1
    return level


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _after(cell, pages, first, last, repeats):
    """Return which page comes after one, within the same picture."""
    base = cell // pages * pages
    after = cell - base + 1
    if after > last:
        after = first if repeats else last
    return base + after


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _meet(picture, y, x, red, green, blue, c, cover, blend):
    """Put light and coverage onto a pixel, as a blending says; cover: how much of c hides what lies behind."""
    if blend == COVERS:
        hides = c * cover
        keep = F32(1) - hides
        picture[y, x, 0] = red + picture[y, x, 0] * keep
        picture[y, x, 1] = green + picture[y, x, 1] * keep
        picture[y, x, 2] = blue + picture[y, x, 2] * keep
        picture[y, x, 3] = hides + picture[y, x, 3] * keep
    elif blend == SCREENS:
        picture[y, x, 0] = red + picture[y, x, 0] * (F32(1) - min(red, F32(1)))
        picture[y, x, 1] = green + picture[y, x, 1] * (F32(1) - min(green, F32(1)))
        picture[y, x, 2] = blue + picture[y, x, 2] * (F32(1) - min(blue, F32(1)))
    else:
        picture[y, x, 0] *= F32(1) - c + red
        picture[y, x, 1] *= F32(1) - c + green
        picture[y, x, 2] *= F32(1) - c + blue


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _profile(far, full):
    """Return how much something covers so far from its middle, 0 to 1: all of it up to `full`, and from there out as (1 - q²)²."""
    if full > 0:
        far = max(far - full, F32(0)) / (F32(1) - full)
    k = F32(1) - far * far
    return k * k


@njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _along(qx, qy, wx, wy, nx, ny, mx, my, side):
    """Return how far along a piece of a line a place is, 0 to 1: where the line from edge to edge that goes through it is between the first,
    along (nx, ny), and the last, along (mx, my), and the middle goes along (wx, wy). qx, qy: the place from the first's middle; side: the sign of
    the turn from (wx, wy) to (nx, ny)."""
    dx, dy = mx - nx, my - ny
    a = wy * dx - wx * dy
    b = (qx * dy - qy * dx) - (wx * ny - wy * nx)
    c = qx * ny - qy * nx
    root = math.sqrt(max(b * b - F32(4) * a * c, F32(0)))
    # of the two places where this is nought, the one between the first line and the last; without a difference of like numbers
    s = F32(2) * c / (side * root - b) if b * side <= 0 else (-b - side * root) / (F32(2) * a)
    return min(max(s, F32(0)), F32(1))


# what is inlined here counts no references to arrays: counting them at every pixel took two thirds of the time
_UNCOUNTED: Any = {"cache": True, "nogil": True, "error_model": "numpy", "fastmath": FAST, "_nrt": False}


@njit(
    "void(float32[:,:,::1], int64, int64, int64[::1], float32[:,::1], float32[:,::1], float32[:,::1], float32[:,::1], int32[::1], int32[:,::1], "
    "float32[::1], float32[:,::1], int64[:,::1], float32[:,:,::1], float64[:,::1])",
    **_UNCOUNTED,
)
def _paint(picture, first, last, order, place, axes, light, traits, which, looks, reach, texels, info, plates, nearest):
    """Paint items into the rows first..last - 1 of a picture, in order."""
    width = picture.shape[1]
    for n in range(order.size):
        i = order[n]
        x, y, away = place[i, 0], place[i, 1], place[i, 2]
        ux, uy, vx, vy = axes[i, 0], axes[i, 1], axes[i, 2], axes[i, 3]
        reach_x, reach_y = abs(ux) + abs(vx), abs(uy) + abs(vy)
        lk = which[i]
        kind, blend, edges = looks[lk, KIND], looks[lk, BLEND], looks[lk, EDGES]
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
            turn, turn_far = ux * vy - uy * vx, ux * my - uy * mx
            first_side, last_side = F32(1) if turn >= 0 else F32(-1), F32(1) if turn_far >= 0 else F32(-1)
            long = math.hypot(ux, uy)
            if long == 0:
                continue
            dr, dg, db, da = traits[i, LIGHT] - r0, traits[i, LIGHT + 1] - g0, traits[i, LIGHT + 2] - b0, traits[i, LIGHT + 3] - opacity
            u0, du, h0, dh = traits[i, LIES], traits[i, LIES + 1] - traits[i, LIES], traits[i, HALVES], traits[i, HALVES + 1] - traits[i, HALVES]
            on, ends = traits[i, AWAY] - away, int(traits[i, ENDS])
            sheet = looks[lk, SHEET]
            here, start, width_ = (F32(0), F32(0), F32(0), F32(0)), 0, 0
            if sheet >= 0:
                level = _level(info, plates, sheet, du, F32(1), long, F32(2) * max(h0, h0 + dh))
                here, start, width_ = _cell(info, plates, sheet, level, 0), info[sheet, 0], info[sheet, 1]
            for py in range(y0, y1 + 1):
                qy = F32(py) + F32(0.5) - y
                for px in range(x0, x1 + 1):
                    qx = F32(px) + F32(0.5) - x
                    if (qx * vy - qy * vx) * first_side < 0 or ((qx - ux) * my - (qy - uy) * mx) * last_side >= 0:
                        continue
                    s = _along(qx, qy, ux, uy, vx, vy, mx, my, first_side)
                    nx, ny = vx + s * (mx - vx), vy + s * (my - vy)
                    side = ((qx - s * ux) * nx + (qy - s * uy) * ny) / (nx * nx + ny * ny)
                    if abs(side) >= F32(1):
                        continue
                    before = F32(1e30)
                    if nearest.size > 0:
                        before = F32(nearest[py, px] - (away + s * on))
                        if before < 0:
                            continue
                    c = (opacity + s * da) * _profile(abs(side), min(full, max(F32(0), F32(1) - F32(1.5) / (h0 + s * dh))))
                    if ends & FIRST_PIECE:
                        c *= min(F32(1), s * long * F32(0.6667))
                    if ends & LAST_PIECE:
                        c *= min(F32(1), (F32(1) - s) * long * F32(0.6667))
                    red, green, blue = (r0 + s * dr) * c, (g0 + s * dg) * c, (b0 + s * db) * c
                    if sheet >= 0:
                        p = _read(texels, start, width_, here, u0 + s * du, (side + F32(1)) * F32(0.5), REPEAT)
                        red, green, blue, c = red * p[0], green * p[1], blue * p[2], c * p[3]
                    if before < soft:
                        k = before / soft
                        red, green, blue, c = red * k, green * k, blue * k, c * k
                    _meet(picture, py, px, red, green, blue, c, cover, blend)
            continue
        area = ux * vy - uy * vx
        if area == 0:
            continue
        ux, uy, vx, vy = ux / area, uy / area, vx / area, vy / area
        sheet, motion, mixed, cutter = looks[lk, SHEET], looks[lk, MOTION], looks[lk, MIXED], looks[lk, CUTTER]
        page, share, tiles_u, tiles_v, from_u, from_v = F32(0), F32(0), F32(1), F32(1), F32(0), F32(0)
        cosine, sine, back, on, mix, toned, cut = F32(1), F32(0), F32(0), F32(0), F32(0), F32(0), F32(0)
        here = next_ = way = next_way = second = cutting = (F32(0), F32(0), F32(0), F32(0))
        s0 = sa = sb = t0 = ta = tb = F32(0)
        start = width_ = start_m = width_m = start_x = width_x = start_c = width_c = 0
        if kind == PICTURE:
            tiles_u, tiles_v, from_u, from_v = traits[i, TILES], traits[i, TILES + 1], traits[i, OFFSET], traits[i, OFFSET + 1]
            wide, tall = math.hypot(axes[i, 0], axes[i, 1]) * F32(2), math.hypot(axes[i, 2], axes[i, 3]) * F32(2)
            s0, sa, sb, t0, ta, tb = (traits[i, LAID], traits[i, LAID + 1], traits[i, LAID + 2], traits[i, LAID + 3], traits[i, LAID + 4],
                                      traits[i, LAID + 5])  # fmt: skip
            ratio = wide / max(tall, F32(1e-6))
            level = _level(info, plates, sheet, tiles_u * math.hypot(F32(2) * sa, F32(2) * sb * ratio),
                           tiles_v * math.hypot(F32(2) * tb, F32(2) * ta / ratio), wide, tall)  # fmt: skip
            cosine, sine = F32(math.cos(traits[i, TURNED])), F32(math.sin(traits[i, TURNED]))
            page = traits[i, PAGE]
            cell = math.floor(page)
            share = page - F32(cell)
            pages = looks[lk, PAGES]
            if share <= F32(0.001) or pages < 2:
                share = F32(0)
            after = _after(cell, pages, looks[lk, FIRST], looks[lk, LAST], looks[lk, REPEATS])
            here, next_ = _cell(info, plates, sheet, level, cell), _cell(info, plates, sheet, level, after)
            start, width_ = info[sheet, 0], info[sheet, 1]
            if motion >= 0:
                way, next_way = _cell(info, plates, motion, level, cell % pages), _cell(info, plates, motion, level, after % pages)
                start_m, width_m = info[motion, 0], info[motion, 1]
                back, on = F32(2) * share * reach[lk], F32(2) * (F32(1) - share) * reach[lk]
            mix, toned, cut = traits[i, MIX], traits[i, TONED], traits[i, CUT]
            if mixed >= 0:
                second, start_x, width_x = _cell(info, plates, mixed, level, 0), info[mixed, 0], info[mixed, 1]
            else:
                mix = F32(0)
            if cutter >= 0:
                cutting, start_c, width_c = _cell(info, plates, cutter, level, 0), info[cutter, 0], info[cutter, 1]
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
                    u, v = F32(0.5) + from_u + (s * cosine + r * sine) * tiles_u, F32(0.5) + from_v + (r * cosine - s * sine) * tiles_v
                    if share <= 0:
                        red, green, blue, c = _read(texels, start, width_, here, u, v, edges)
                    else:
                        du, dv, eu, ev = F32(0), F32(0), F32(0), F32(0)
                        if motion >= 0:
                            m = _read(texels, start_m, width_m, way, u, v, HOLD)
                            n_ = _read(texels, start_m, width_m, next_way, u, v, HOLD)
                            du, dv = (m[0] - F32(0.5)) * back, (m[1] - F32(0.5)) * back
                            eu, ev = (n_[0] - F32(0.5)) * on, (n_[1] - F32(0.5)) * on
                        p = _read(texels, start, width_, here, u - du, v + dv, edges)
                        q = _read(texels, start, width_, next_, u + eu, v - ev, edges)
                        k = F32(1) - share
                        red, green, blue, c = p[0] * k + q[0] * share, p[1] * k + q[1] * share, p[2] * k + q[2] * share, p[3] * k + q[3] * share
                    if mix > 0:
                        p = _read(texels, start_x, width_x, second, u, v, edges)
                        k = F32(1) - mix
                        red, green, blue, c = red * k + p[0] * mix, green * k + p[1] * mix, blue * k + p[2] * mix, c * k + p[3] * mix
                    if c <= 0:
                        continue
                    bright = (F32(0.2126) * red + F32(0.7152) * green + F32(0.0722) * blue) / c
                    red, green, blue = red * r0, green * g0, blue * b0
                    if toned > 0:
                        k, e, w = min(max(bright * F32(2), F32(0)), F32(2)), toned * c, F32(1) - toned
                        at = DARK if k < F32(1) else BRIGHT
                        k = abs(k - F32(1))  # how far from the colour in the middle
                        red = red * w + (r0 + (traits[i, at] - r0) * k) * e
                        green = green * w + (g0 + (traits[i, at + 1] - g0) * k) * e
                        blue = blue * w + (b0 + (traits[i, at + 2] - b0) * k) * e
                    if cut > 0:
                        value = c
                        if cutter >= 0:
                            p = _read(texels, start_c, width_c, cutting, u, v, REPEAT if edges == END else edges)
                            value = F32(0.2126) * p[0] + F32(0.7152) * p[1] + F32(0.0722) * p[2]
                        fade, rim = max(traits[i, CUT + 1], F32(0.001)), traits[i, CUT + 2]
                        over = value - (cut * (F32(1) + fade) - fade)  # above where nothing is left
                        left = min(max(over / fade, F32(0)), F32(1))
                        red, green, blue = red * left, green * left, blue * left
                        if rim > 0:
                            shine = min(max(F32(1) - over / rim, F32(0)), F32(1)) * min(cut * F32(20), F32(1)) * c * left
                            red, green, blue = (red + traits[i, RIM_COLOUR] * shine, green + traits[i, RIM_COLOUR + 1] * shine,
                                                blue + traits[i, RIM_COLOUR + 2] * shine)  # fmt: skip
                        c *= left
                    red, green, blue, c = red * opacity, green * opacity, blue * opacity, c * opacity
                else:
                    square = a * a + b * b
                    if square >= F32(1):
                        continue
                    c = opacity * _profile(math.sqrt(square), full)
                    red, green, blue = r0 * c, g0 * c, b0 * c
                if before < soft:
                    k = before / soft
                    red, green, blue, c = red * k, green * k, blue * k, c * k
                _meet(picture, py, px, red, green, blue, c, cover, blend)
