"""Linear light and the sRGB transfer function (IEC 61966-2-1)."""

from __future__ import annotations

import numpy as np


def linear_to_srgb(linear: np.ndarray) -> np.ndarray:
    """Return sRGB-encoded values, 0 to 1, of linear light; light outside 0 to 1 is clipped. Any shape."""
    x = np.clip(linear, 0.0, 1.0)
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.power(np.maximum(x, 1e-12), 1 / 2.4) - 0.055)


def srgb_to_linear(encoded: np.ndarray) -> np.ndarray:
    """Return linear light of sRGB-encoded values, 0 to 1. Any shape."""
    x = np.asarray(encoded)
    return np.where(x <= 0.04045, x / 12.92, np.power((np.maximum(x, 0.0) + 0.055) / 1.055, 2.4))
