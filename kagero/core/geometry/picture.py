"""A picture in linear light, read at (u, v) between its pixels."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from ..work_limits import spend

STRIP = 128  # rows that are worked on at a time
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # of linear sRGB: ITU-R BT.709
Channel = Literal["luminance", "red", "green", "blue", "alpha"]
Wrap = Literal["repeat", "hold", "tile"]


@dataclass(frozen=True)
class Picture:
    """pixels: (H, W, 4) float32 or, as files are kept, float16; linear-light colour (not multiplied by alpha) and
    alpha; the first row is the top, v = 1."""

    pixels: np.ndarray

    @property
    def size(self) -> tuple[int, int]:
        """Width and height."""
        return self.pixels.shape[1], self.pixels.shape[0]

    @cached_property
    def levels(self) -> list[np.ndarray]:
        """The picture and halves of it down to one pixel; each pixel the mean of those it stands for."""
        levels = [self.pixels]
        while max(levels[-1].shape[:2]) > 1:
            levels.append(_halved(levels[-1]))
        return levels

    def no_larger(self, most: int) -> np.ndarray:
        """Return its pixels, or those of the largest level with no side longer than `most`, float32."""
        level = next(
            (
                level
                for level in ([self.pixels] if max(self.size) <= most else self.levels)
                if max(level.shape[:2]) <= most
            ),
            self.pixels,
        )
        return level.astype(np.float32)

    def at(self, uv: np.ndarray, wrap: Wrap = "repeat", footprint: float = 0.0) -> np.ndarray:
        """Return colour and alpha at (u, v), (n, 4): linear between pixel centres. u to the right, v up.

        wrap: what lies outside 0..1; tile repeats there, but lets no side of the picture bleed into the other within.
        footprint: how wide a place is in shares of the picture; wider than a pixel, a smaller
        level of the picture is read, so that nothing is missed between places.
        """
        level = 0
        if footprint > 0:
            level = int(np.clip(np.round(np.log2(max(footprint * max(self.size), 1.0))), 0, len(self.levels) - 1))
        pixels = self.levels[level]
        h, w = pixels.shape[:2]
        x, y = np.asarray(uv[:, 0], np.float64) * w - 0.5, (1 - np.asarray(uv[:, 1], np.float64)) * h - 0.5
        x0, y0 = np.floor(x), np.floor(y)
        fx, fy = (x - x0)[:, None], (y - y0)[:, None]

        beyond = ((uv < 0) | (uv > 1)).any(axis=1)

        def place(i: np.ndarray, n: int) -> np.ndarray:
            i = i.astype(np.int64)
            held = np.clip(i, 0, n - 1)
            return i % n if wrap == "repeat" else held if wrap == "hold" else np.where(beyond, i % n, held)

        left, right, top, bottom = place(x0, w), place(x0 + 1, w), place(y0, h), place(y0 + 1, h)
        a, b, c, d = (pixels[row, column].astype(np.float64) for row in (top, bottom) for column in (left, right))
        upper = a * (1 - fx) + b * fx
        lower = c * (1 - fx) + d * fx
        return upper * (1 - fy) + lower * fy

    def channel(self, uv: np.ndarray, channel: Channel = "luminance", wrap: Wrap = "repeat") -> np.ndarray:
        """Return one value at (u, v), (n,): luminance in linear light, a component, or alpha."""
        found = self.at(uv, wrap)
        if channel == "luminance":
            return found[:, :3] @ LUMINANCE
        return found[:, {"red": 0, "green": 1, "blue": 2, "alpha": 3}[channel]]

    @staticmethod
    def from_srgb(pixels: np.ndarray) -> Picture:
        """Return a picture of sRGB-encoded pixels, (H, W, 3 or 4) in 0..1: decoded by IEC 61966-2-1; alpha stays as it
        is."""
        pixels = np.asarray(pixels, np.float32)
        colour = pixels[:, :, :3]
        linear = np.where(colour <= 0.04045, colour / 12.92, ((colour + 0.055) / 1.055) ** 2.4)
        alpha = pixels[:, :, 3:4] if pixels.shape[2] == 4 else np.ones((*pixels.shape[:2], 1), np.float32)
        return Picture(np.concatenate([linear, alpha], axis=2).astype(np.float32))


def _halved(pixels: np.ndarray) -> np.ndarray:
    """Return a picture half as large, (H, W, 4), each pixel the mean of those it stands for: some rows at a time, as
    float32."""
    height, width = pixels.shape[:2]
    smaller = np.empty((-(-height // 2), -(-width // 2), pixels.shape[2]), pixels.dtype)
    for top in range(0, len(smaller), STRIP):
        spend(STRIP * width * 4)
        rows: np.ndarray = pixels[2 * top : 2 * (top + STRIP)].astype(np.float32)
        h, w = rows.shape[:2]
        rows = np.pad(rows, ((0, h % 2 if height > 1 else 0), (0, w % 2 if width > 1 else 0), (0, 0)), mode="edge")
        if height > 1:
            rows = (rows[0::2] + rows[1::2]) / 2
        if width > 1:
            rows = (rows[:, 0::2] + rows[:, 1::2]) / 2
        smaller[top : top + STRIP] = rows
    return smaller
