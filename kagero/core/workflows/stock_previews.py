"""Pictures that ship, as they are chosen from."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from ..errors import RequestError
from ..geometry import Picture
from ..geometry.stock import NAMES, stock
from ..kernels.colour import linear_to_srgb


def shelf_picture(name: str, side: int = 64) -> bytes:
    """Return a picture that ships as a PNG with alpha, at most `side` pixels a side; of a book one of its pages. Raises RequestError."""
    if name not in NAMES:
        raise RequestError(
            f"There is no picture {name[:40]!r} on the shelf.",
            where="name",
            remedy=f"Choose one of: {', '.join(NAMES)}.",
        )
    picture = stock(name)
    pixels = picture.picture.pixels
    high, wide = pixels.shape[0] // picture.down, pixels.shape[1] // picture.across
    row, column = picture.down // 3, picture.across // 3  # a page that shows much
    page = Picture(pixels[row * high : (row + 1) * high, column * wide : (column + 1) * wide]).no_larger(side)
    shown = np.concatenate([linear_to_srgb(page[..., :3]), np.clip(page[..., 3:], 0, 1)], axis=2)
    stream = io.BytesIO()
    Image.fromarray((shown * 255 + 0.5).astype(np.uint8)).save(stream, "PNG")
    return stream.getvalue()
