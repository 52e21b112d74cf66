"""What pictures that ship are drawn on: a square from -1 to 1, y up, sampled finely and then brought to size."""

from __future__ import annotations

import numpy as np

from ..picture import Picture

SIDE, FINE = 256, 2
F32 = np.float32


def plane(side: int = SIDE) -> tuple[np.ndarray, np.ndarray]:
    """Return x and y of every fine sample, (side * FINE, side * FINE)."""
    at = (np.arange(side * FINE, dtype=F32) + F32(0.5)) / F32(side * FINE) * 2 - 1
    x, y = np.meshgrid(at, -at)
    return x, y


def smooth_step(low: float, high: float | np.ndarray, x: np.ndarray) -> np.ndarray:
    """Return 0 below `low`, 1 above `high`, smooth between."""
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def finished_picture(light: np.ndarray | tuple[np.ndarray, np.ndarray, np.ndarray], alpha: np.ndarray) -> Picture:
    """Return a picture of fine samples: linear light, one number or three, and how much is covered."""
    colour = np.stack(light if isinstance(light, tuple) else (light, light, light), axis=2).astype(F32)
    alpha = np.clip(alpha, 0, 1).astype(F32)[:, :, None]
    flat = np.concatenate([np.clip(colour, 0, 1) * alpha, alpha], axis=2)
    h, w = flat.shape[0] // FINE, flat.shape[1] // FINE
    flat = flat.reshape(h, FINE, w, FINE, 4).mean(axis=(1, 3))
    return Picture(
        np.concatenate([flat[:, :, :3] / np.maximum(flat[:, :, 3:], 1e-6), flat[:, :, 3:]], axis=2).astype(F32)
    )
