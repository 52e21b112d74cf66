"""Pictures with alpha, 8 bits a channel: PNG (ISO/IEC 15948)."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from ...kernels.colour import linear_to_srgb
from .base import FramePicture, Sequence


class PngSequence(Sequence):
    """A picture a frame, sRGB with straight alpha."""

    kind, label, suffix, ending, packed, takes = "png", "PNG sequence", ".png.zip", ".png", False, "pictures"
    help = "Pictures with alpha from the effect's camera, in a zip."

    def bytes_of(self, frame: FramePicture) -> bytes:
        return to_png(frame.pixels)


def to_png(picture: np.ndarray, background: tuple[float, float, float] | None = None) -> bytes:
    """Return an 8-bit sRGB PNG with straight alpha; over `background` (linear light) it is opaque.

    Added light covers nothing, which straight alpha cannot say: there a pixel's alpha is raised to its brightest
    channel, so that over black the picture is as rendered.
    """
    if background is not None:
        flat = picture[..., :3] + np.asarray(background, np.float32) * (1 - picture[..., 3:])
        encoded = (linear_to_srgb(flat) * 255 + 0.5).astype(np.uint8)
    else:
        rgb = picture[..., :3]
        alpha = np.clip(np.maximum(picture[..., 3], rgb.max(axis=-1)), 0, 1)
        straight = rgb / np.maximum(alpha, 1e-6)[..., None]
        encoded = np.empty((*alpha.shape, 4), np.uint8)
        encoded[..., :3] = linear_to_srgb(straight) * 255 + 0.5
        encoded[..., 3] = alpha * 255 + 0.5
    stream = io.BytesIO()
    Image.fromarray(encoded).save(stream, "PNG", compress_level=4)
    return stream.getvalue()
