"""Sampling of picture sheets (`geometry.sheet.Sheet`): cells of a grid with levels of detail, bilinear."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .compiled import kernel

F32 = np.float32
FAST = {"contract", "arcp", "nsz"}
END, HOLD, REPEAT, MIRROR = 0, 1, 2, 3  # what stands beyond a cell's edge


@dataclass(frozen=True)
class Sheets:
    """Picture sheets (`geometry.sheet.Sheet`), concatenated.

    texels: (N, 4). info: (S, 4) int64, each sheet's first texel, width, cells across and levels. plates: (S, 12, 4).
    """

    texels: np.ndarray
    info: np.ndarray
    plates: np.ndarray


NO_SHEETS = Sheets(np.zeros((1, 4), F32), np.zeros((1, 4), np.int64), np.zeros((1, 12, 4), F32))


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def read_texel(texels, start, width, x, y):
    """Return the bilinear colour at (x, y) of a sheet, in texels."""
    x0, y0 = math.floor(x - F32(0.5)), math.floor(y - F32(0.5))
    fx, fy = x - F32(0.5) - F32(x0), y - F32(0.5) - F32(y0)
    at = start + max(y0, 0) * width + max(x0, 0)
    below = at + width
    p, q, r, s = (F32(1) - fx) * (F32(1) - fy), fx * (F32(1) - fy), (F32(1) - fx) * fy, fx * fy
    return (
        texels[at, 0] * p + texels[at + 1, 0] * q + texels[below, 0] * r + texels[below + 1, 0] * s,
        texels[at, 1] * p + texels[at + 1, 1] * q + texels[below, 1] * r + texels[below + 1, 1] * s,
        texels[at, 2] * p + texels[at + 1, 2] * q + texels[below, 2] * r + texels[below + 1, 2] * s,
        texels[at, 3] * p + texels[at + 1, 3] * q + texels[below, 3] * r + texels[below + 1, 3] * s,
    )


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def cell_at(info, plates, sheet, level, cell):
    """Return a cell's first texel, width and height at a level of detail, in texels; zero where there is no sheet."""
    if sheet < 0:
        return F32(0), F32(0), F32(0), F32(0)
    level = min(level, info[sheet, 3] - 1)
    row = cell // info[sheet, 2]
    column = cell - row * info[sheet, 2]
    wide, tall = plates[sheet, level, 2], plates[sheet, level, 3]
    x = plates[sheet, level, 0] + F32(column) * (wide + F32(2)) + F32(1)
    y = plates[sheet, level, 1] + F32(row) * (tall + F32(2)) + F32(1)
    return x, y, wide, tall


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def read_cell(texels, start, width, cell, u, v, edges):
    """Return the colour of a cell (from `cell_at`) at (u, v), v up; outside 0 to 1 as `edges` says. start, width: of
    its sheet."""
    if edges == END:
        if u < 0 or u > 1 or v < 0 or v > 1:
            return F32(0), F32(0), F32(0), F32(0)
    elif edges == HOLD:
        u, v = min(max(u, F32(0)), F32(1)), min(max(v, F32(0)), F32(1))
    elif edges == REPEAT:
        u, v = u - F32(math.floor(u)), v - F32(math.floor(v))
    else:
        u = abs(u - F32(2 * math.floor(u * F32(0.5) + F32(0.5))))
        v = abs(v - F32(2 * math.floor(v * F32(0.5) + F32(0.5))))
    return read_texel(texels, start, width, cell[0] + u * cell[2], cell[1] + (F32(1) - v) * cell[3])


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def level_of(info, plates, sheet, tiles_u, tiles_v, wide, tall):
    """Return the level of detail at which a texel is at least half a pixel, for a picture of `wide` by `tall`
    pixels."""
    dense = max(
        plates[sheet, 0, 2] * abs(tiles_u) / max(wide, F32(1e-6)),
        plates[sheet, 0, 3] * abs(tiles_v) / max(tall, F32(1e-6)),
    )
    level = 0
    while dense >= F32(2) and level < info[sheet, 3] - 1:
        dense *= F32(0.5)
        level += 1
    return level


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def page_after(cell, pages, first, last, repeats):
    """Return the page that follows a page within the same picture."""
    base = cell // pages * pages
    after = cell - base + 1
    if after > last:
        after = first if repeats else last
    return base + after
