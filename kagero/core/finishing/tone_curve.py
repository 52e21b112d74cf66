"""The tone curve of Reinhard, Stark, Shirley and Ferwerda, SIGGRAPH 2002, equation 4."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry.picture import LUMINANCE
from .shot import RowValues, Shot


def roll_off(light: np.ndarray, white: float) -> np.ndarray:
    """Return compressed light, 0 or more: 1 at white, and never more."""
    return np.minimum(light * (1 + light / (white * white)) / (1 + light), 1)


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    image, white = light.copy(), own.number("white")
    colour = np.maximum(light[..., :3], 0)
    if part.on == "channels":
        image[..., :3] = roll_off(colour, white)
    else:
        before = colour @ LUMINANCE.astype(np.float32)
        image[..., :3] = colour * (roll_off(before, white) / np.maximum(before, 1e-9))[..., None]
    return image


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {"white": own.number("white"), "luminance": part.on == "luminance"}
