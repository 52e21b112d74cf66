"""Pictures for judging: clipped light, and edges over black, grey and white with alpha beside them."""

from __future__ import annotations

import numpy as np

from .behind import BACKGROUNDS

F32 = np.float32
ABOVE, BELOW, NO_NUMBER = (0.807, 0.127, 0.045), (0.098, 0.381, 0.381), (1.0, 0.0, 1.0)  # vermilion, teal, magenta


def clipped(light: np.ndarray) -> np.ndarray:
    """Return light, (H, W, 3), in dark greys by its brightest channel, and in colour where a screen cannot show it:
    vermilion above white (full at 16), teal below zero, magenta where it is not a number."""
    most = np.max(np.nan_to_num(light, nan=0.0, posinf=1e4), axis=2)
    image = np.repeat((np.clip(most, 0, 1) * 0.25)[..., None], 3, axis=2).astype(F32)
    share = np.clip(np.log2(np.maximum(most, 1)) / 4, 0, 1)[..., None]
    image = np.where((most > 1)[..., None], (0.35 + 0.65 * share) * np.asarray(ABOVE, F32), image)
    image = np.where((np.min(light, axis=2) < -1e-5)[..., None], np.asarray(BELOW, F32), image)
    return np.where(np.isfinite(light).all(axis=2)[..., None], image, np.asarray(NO_NUMBER, F32)).astype(F32)


def edges(alone: np.ndarray) -> np.ndarray:
    """Return a picture with alpha, (H, W, 4) premultiplied, over black and mid grey, and below over white and as alpha
    alone: (2H, 2W, 3)."""
    colour, rest = alone[..., :3], 1 - np.clip(alone[..., 3:], 0, 1)
    black, grey, white = (
        colour + rest * np.asarray(ground, F32) for ground in ((0.0, 0.0, 0.0), BACKGROUNDS["grey"], (1.0, 1.0, 1.0))
    )
    alpha = np.repeat(np.clip(alone[..., 3:], 0, 1), 3, axis=2)
    image: np.ndarray = np.concatenate(
        [np.concatenate([black, grey], axis=1), np.concatenate([white, alpha], axis=1)], axis=0
    )
    return image
