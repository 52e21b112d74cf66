"""Previews of the shelf's pictures."""

from __future__ import annotations

import io

from PIL import Image

from ..errors import RequestError
from ..formats.encoding import rgba_bytes
from ..geometry import Picture
from ..geometry.stock import NAMES, stock


def shelf_picture(name: str, side: int = 64) -> bytes:
    """Return a picture of the shelf as a PNG with alpha, at most `side` pixels a side; for a book, one of its pages.
    Raises RequestError."""
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
    stream = io.BytesIO()
    Image.fromarray(rgba_bytes(page)).save(stream, "PNG")
    return stream.getvalue()
