"""Linear light as the numbers of picture files: sRGB, straight alpha."""

from __future__ import annotations

import numpy as np

from ..kernels.colour import linear_to_srgb


def to_straight_alpha(picture: np.ndarray) -> np.ndarray:
    """Return premultiplied linear light, (H, W, 4), as sRGB-encoded colour with straight alpha, 0 to 1.

    Added light covers nothing, which straight alpha cannot say: there a pixel's alpha is raised to its brightest
    channel, so that over black the picture is as rendered.
    """
    rgb = np.maximum(picture[..., :3], 0)
    alpha = np.clip(np.maximum(picture[..., 3], rgb.max(axis=-1)), 0, 1)
    pixels = np.empty((*alpha.shape, 4), np.float32)
    pixels[..., :3] = linear_to_srgb(rgb / np.maximum(alpha, 1e-6)[..., None])
    pixels[..., 3] = alpha
    return pixels


def to_bytes(picture: np.ndarray) -> np.ndarray:
    """Return the same in 8 bits."""
    return (to_straight_alpha(picture) * 255 + 0.5).astype(np.uint8)


def rgba_bytes(pixels: np.ndarray) -> np.ndarray:
    """Return linear light and alpha, (..., 4), as sRGB-encoded colour and alpha of 8 bits, each clipped to 0 to 1. The
    alpha is as it was: straight, or multiplied where the light was."""
    encoded = np.concatenate([linear_to_srgb(pixels[..., :3]), np.clip(pixels[..., 3:], 0, 1)], axis=-1)
    return (encoded * 255 + 0.5).astype(np.uint8)
