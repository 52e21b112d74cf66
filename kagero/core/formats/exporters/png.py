"""Pictures with alpha, 8 or 16 bits a channel: PNG (ISO/IEC 15948)."""

from __future__ import annotations

import io
from fractions import Fraction

import numpy as np
from PIL import Image

from ...kernels.colour import linear_to_srgb
from ..encoding import to_bytes, to_straight_alpha
from ..png_chunks import with_colour_chunks
from .base import BEHIND, FramePicture, Option, Sequence

COLOUR = "sRGB, straight alpha"


class PngSequence(Sequence):
    """A picture a frame, sRGB with straight alpha."""

    kind = "png"
    label = "PNG sequence"
    suffix = ".png.zip"
    ending = ".png"
    packed = False
    takes = "pictures"
    colour = COLOUR
    help = "Pictures with alpha from the effect's camera, in a zip."
    options = (
        BEHIND,
        Option(
            "bits", "Bits", "How many bits each of red, green, blue and alpha has.", "8", (("8", "8"), ("16", "16"))
        ),
    )

    def bytes_of(self, frame: FramePicture) -> bytes:
        encoded = deep_png(frame.pixels) if self.about.options.get("bits") == "16" else to_png(frame.pixels)
        return with_colour_chunks(encoded, COLOUR)


def to_png(picture: np.ndarray, background: tuple[float, float, float] | None = None) -> bytes:
    """Return an 8-bit sRGB PNG with straight alpha (`encoded.straight`); over `background` (linear light) it is
    opaque."""
    if background is not None:
        flat = picture[..., :3] + np.asarray(background, np.float32) * (1 - picture[..., 3:])
        encoded = (linear_to_srgb(flat) * 255 + 0.5).astype(np.uint8)
    else:
        encoded = to_bytes(picture)
    stream = io.BytesIO()
    Image.fromarray(encoded).save(stream, "PNG", compress_level=4)
    return stream.getvalue()


def deep_png(picture: np.ndarray) -> bytes:
    """Return a 16-bit sRGB PNG with straight alpha."""
    import av  # slow to load, and only needed here

    numbers = (to_straight_alpha(picture) * 65535 + 0.5).astype(np.uint16)
    codec = av.CodecContext.create("png", "w")
    codec.width, codec.height, codec.pix_fmt = picture.shape[1], picture.shape[0], "rgba64be"
    codec.time_base = Fraction(1, 1)
    frame = av.VideoFrame.from_ndarray(numbers, format="rgba64be")
    frame.pts = 0
    return b"".join(bytes(packet) for packet in [*codec.encode(frame), *codec.encode(None)])
