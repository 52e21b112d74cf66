"""The background: a colour, or a backplate that fills the frame."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry import Picture
from ..kernels.colour import linear_to_srgb

F32 = np.float32
# linear light of #0f1418, #767676 (mid grey) and #ece5d8
BACKGROUNDS = {"ink": (0.0048, 0.007, 0.0091), "grey": (0.1812, 0.1812, 0.1812), "paper": (0.8388, 0.7835, 0.6867)}


def backplate_over(
    picture: Picture,
    frame: Any,
    size: tuple[int, int],
    region: tuple[int, int, int, int],
    flat: np.ndarray,
    times: float,
) -> np.ndarray:
    """Return a backplate fitted to a frame, in a region of it, (rows, columns, 3) linear light, over a colour where it
    leaves space.

    size: of the whole picture, pixels. region: left, top, columns, rows. flat: the colour, one for each pixel. times:
    factor of exposure.
    """
    (left, top, wide, tall), (width, height) = region, size
    aspect = picture.size[0] / picture.size[1] / (width / height)
    across, down = {
        "fill": (max(aspect, 1.0), max(1 / aspect, 1.0)),
        "within": (min(aspect, 1.0), min(1 / aspect, 1.0)),
        "stretch": (1.0, 1.0),
    }[frame.fit]
    u = ((np.arange(wide) + left + 0.5) / width - 0.5) / across + 0.5
    v = 0.5 - ((np.arange(tall) + top + 0.5) / height - 0.5) / down
    read = sample(picture, u, v, max(1 / (width * across), 1 / (height * down)))
    light = decode_light(read[..., :3], frame.space) * F32(times)
    inside = ((u >= 0) & (u <= 1))[None, :] & ((v >= 0) & (v <= 1))[:, None]
    alpha = read[..., 3:] * inside[..., None]
    return light * alpha + flat * (1 - alpha)


def sample(picture: Picture, u: np.ndarray, v: np.ndarray, footprint: float) -> np.ndarray:
    """Return a picture at every u (c,) and v (r,), (r, c, 4): bilinear, clamped at its edges, at the level of detail
    whose pixels are about `footprint` wide."""
    level = int(np.clip(np.round(np.log2(max(footprint * max(picture.size), 1.0))), 0, len(picture.levels) - 1))
    pixels = picture.levels[level].astype(F32)
    h, w = pixels.shape[:2]

    def places(at: np.ndarray, n: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        at = np.clip(at * n - 0.5, 0, n - 1)
        first = np.minimum(at.astype(np.int64), n - 1)
        return first, np.minimum(first + 1, n - 1), (at - first).astype(F32)

    (x0, x1, fx), (y0, y1, fy) = places(u, w), places(1 - v, h)
    rows = pixels[y0] + (pixels[y1] - pixels[y0]) * fy[:, None, None]
    sampled: np.ndarray = rows[:, x0] + (rows[:, x1] - rows[:, x0]) * fx[None, :, None]
    return sampled


def decode_light(light: np.ndarray, space: str) -> np.ndarray:
    """Return linear light of a picture read as sRGB whose numbers are in another colour space."""
    if space == "srgb":
        return light
    numbers = linear_to_srgb(np.clip(light, 0, None)).astype(F32)
    return numbers ** F32(2.4) if space == "bt709" else numbers
