"""Pictures made ready for being drawn on particles, large and small: cells of a grid, each with halves of itself, and a
rim of one texel."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..errors import GeometryProblem
from .picture import Picture

Edges = Literal["end", "hold", "repeat", "mirror"]
Cover = Literal["alpha", "brightness"]
MOST_TEXELS = 1 << 20  # of the cells of one sheet at full size: what is larger is halved
LEVELS = 12  # at most: a cell of 2,048 texels a side has twelve


@dataclass(frozen=True)
class Sheet:
    """texels: (H, W, 4) float32, linear light times alpha, and alpha. plates: (levels, 4) float32 of each level: x and
    y of the corner of its first cell with the rim, and the cell's own width and height without it, in texels. across:
    how many cells lie side by side; cells: how many there are, from the left, row by row from the top. aspect: width
    over height of a cell."""

    texels: np.ndarray
    plates: np.ndarray
    across: int
    cells: int
    aspect: float


def sheet(
    pictures: Sequence[Picture], across: int = 1, down: int = 1, edges: Edges = "end", cover: Cover = "alpha"
) -> Sheet:
    """Return the sheet of some pictures, each a grid of `across` by `down` cells; the cells of the first stand before
    those of the second.

    cover: whether a texel covers by its alpha, or by its brightest part too (pictures that are dark where nothing is).
    edges: what stands beyond a cell: nothing, its own edge, or what comes round. All cells are as large as those of the
    first picture. Raises GeometryProblem where a picture cannot be cut into such a grid.
    """
    cut = [_split(each, across, down, cover) for each in pictures]
    height, width = cut[0].shape[1:3]
    cells = np.concatenate([cut[0], *(_as_large(each, height, width) for each in cut[1:])])
    aspect = width / height
    while len(cells) * cells.shape[1] * cells.shape[2] > MOST_TEXELS and max(cells.shape[1:3]) > 8:
        cells = _halved(cells)
    columns = across if len(pictures) == 1 else max(1, int(np.ceil(np.sqrt(len(cells)))))
    rows = -(-len(cells) // columns)
    plates, pages, top = [], [], 0
    while True:
        h, w = cells.shape[1:3]
        framed = _with_border(cells, edges)
        page = np.zeros((rows * columns, h + 2, w + 2, 4), np.float32)
        page[: len(cells)] = framed
        pages.append(
            page.reshape(rows, columns, h + 2, w + 2, 4).swapaxes(1, 2).reshape(rows * (h + 2), columns * (w + 2), 4)
        )
        plates.append((0, top, w, h))
        top += rows * (h + 2)
        if max(h, w) <= 2 or len(plates) == LEVELS:
            break
        cells = _halved(cells)
    wide = pages[0].shape[1]
    texels = np.concatenate([np.pad(page, ((0, 0), (0, wide - page.shape[1]), (0, 0))) for page in pages])
    return Sheet(np.ascontiguousarray(texels), np.array(plates, np.float32), columns, len(cells), aspect)


def _split(picture: Picture, across: int, down: int, cover: Cover) -> np.ndarray:
    """Return a picture's cells, (n, h, w, 4), premultiplied."""
    width, height = picture.size
    if width % across or height % down:
        raise GeometryProblem(
            f"A picture of {width} x {height} pixels cannot be cut into {across} x {down} equal pictures.",
            where="across",
            remedy="Give how many it holds side by side and one below the other.",
        )
    pixels = picture.pixels.astype(np.float32)
    flat = np.concatenate([pixels[:, :, :3] * pixels[:, :, 3:], pixels[:, :, 3:]], axis=2)
    while flat.shape[0] * flat.shape[1] > 4 * MOST_TEXELS and not (
        flat.shape[0] % (2 * down) or flat.shape[1] % (2 * across)
    ):
        flat = _halved(flat[None])[0]
    if (
        cover == "brightness"
    ):  # what shines covers as much as its brightest part does: black is nothing, white is all there
        flat[:, :, 3] = np.clip(flat[:, :, :3].max(axis=2), 0, 1)
    h, w = flat.shape[0] // down, flat.shape[1] // across
    return flat.reshape(down, h, across, w, 4).swapaxes(1, 2).reshape(down * across, h, w, 4)


def _halved(cells: np.ndarray) -> np.ndarray:
    """Return cells of half the size, each texel the mean of those it stands for; an odd last one counts twice."""
    h, w = cells.shape[1:3]
    cells = np.pad(cells, ((0, 0), (0, h % 2 if h > 1 else 0), (0, w % 2 if w > 1 else 0), (0, 0)), mode="edge")
    if h > 1:
        cells = (cells[:, 0::2] + cells[:, 1::2]) * np.float32(0.5)
    if w > 1:
        cells = (cells[:, :, 0::2] + cells[:, :, 1::2]) * np.float32(0.5)
    return cells


def _as_large(cells: np.ndarray, height: int, width: int) -> np.ndarray:
    """Return cells of another size: halved until they are less than twice as large, then read between their texels."""
    while cells.shape[1] >= 2 * height and cells.shape[2] >= 2 * width:
        cells = _halved(cells)
    h, w = cells.shape[1:3]
    if (h, w) == (height, width):
        return cells
    y, x = (np.arange(height) + 0.5) * h / height - 0.5, (np.arange(width) + 0.5) * w / width - 0.5

    def between(cells: np.ndarray, at: np.ndarray, axis: int) -> np.ndarray:
        last = cells.shape[axis] - 1
        low = np.clip(np.floor(at).astype(int), 0, last)
        share = np.clip(at - low, 0, 1).astype(np.float32).reshape([-1 if a == axis else 1 for a in range(4)])
        return np.take(cells, low, axis) * (1 - share) + np.take(cells, np.minimum(low + 1, last), axis) * share

    return between(between(cells, y, 1), x, 2)


def _with_border(cells: np.ndarray, edges: Edges) -> np.ndarray:
    """Return cells with a rim of one texel: what reading between texels at their edge meets there."""
    around = ((0, 0), (1, 1), (1, 1), (0, 0))
    if edges == "end":
        return np.pad(cells, around)
    return np.pad(cells, around, mode="wrap" if edges == "repeat" else "edge")
