"""Exposure: each stop doubles the light."""

from __future__ import annotations

from typing import Any

import numpy as np

from .shot import RowValues, Shot


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    image = light.copy()
    image[..., :3] *= np.float32(2.0 ** own.number("stops"))
    return image


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {"times": 2.0 ** own.number("stops")}
