"""What stands behind all: a colour, or a picture that fills the frame."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry import Picture
from ..kernels.colour import linear_to_srgb

F32 = np.float32
# linear light of #0f1418, #767676 (mid grey) and #ece5d8
BACKGROUNDS = {"ink": (0.0048, 0.007, 0.0091), "grey": (0.1812, 0.1812, 0.1812), "paper": (0.8388, 0.7835, 0.6867)}


def laid_behind(picture: Picture, frame: Any, size: tuple[int, int], region: tuple[int, int, int, int], flat: np.ndarray, times: float) -> np.ndarray:
    """Return a backplate as it fills a frame, in a region of it, (rows, columns, 3) linear light, over a colour where it leaves some.

    size: of the whole picture, pixels; region: left, top, columns, rows; flat: the colour, one a pixel; times: its exposure.
    """
    (left, top, wide, tall), (width, height) = region, size
    aspect = picture.size[0] / picture.size[1] / (width / height)
    across, down = {"fill": (max(aspect, 1.0), max(1 / aspect, 1.0)), "within": (min(aspect, 1.0), min(1 / aspect, 1.0)), "stretch": (1.0, 1.0)}[
        frame.fit
    ]
    u = ((np.arange(wide) + left + 0.5) / width - 0.5) / across + 0.5
    v = 0.5 - ((np.arange(tall) + top + 0.5) / height - 0.5) / down
    footprint = max(1 / (width * across), 1 / (height * down))
    uv = np.stack(np.broadcast_arrays(u[None, :], v[:, None]), axis=2).reshape(-1, 2)
    read = picture.at(uv, "hold", footprint).reshape(tall, wide, 4).astype(F32)
    light = decoded(read[..., :3], frame.space) * F32(times)
    inside = ((u >= 0) & (u <= 1))[None, :] & ((v >= 0) & (v <= 1))[:, None]
    alpha = read[..., 3:] * inside[..., None]
    return light * alpha + flat * (1 - alpha)


def decoded(light: np.ndarray, space: str) -> np.ndarray:
    """Return linear light of a picture that was read as sRGB, from what its numbers are said to be."""
    if space == "srgb":
        return light
    numbers = linear_to_srgb(np.clip(light, 0, None)).astype(F32)
    return numbers ** F32(2.4) if space == "bt709" else numbers
