"""Vignette: darker towards the corners."""

from __future__ import annotations

from typing import Any

import numpy as np

from .shot import RowValues, Shot


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    rows, columns = light.shape[:2]
    x = (np.arange(columns) + shot.left + 0.5 - shot.width / 2) / (shot.width / 2)
    y = (np.arange(rows) + shot.top + 0.5 - shot.height / 2) / (shot.height / 2)
    away = np.sqrt((x[None, :] ** 2 + y[:, None] ** 2) / 2)
    begins = own.number("begins")
    share = np.clip((away - begins) / max(own.number("softness"), 1e-6), 0, 1)
    left = 1 - own.number("amount") * share * share * (3 - 2 * share)
    image = light.copy()
    image[..., :3] *= left[..., None].astype(np.float32)
    return image


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {name: own.number(name) for name in ("amount", "begins", "softness")}
