"""Painting of haze (client/src/stage/hazelayer.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.drawing import paint_in_bands
from ..kernels.haze import march_rays
from .layers import Layer
from .viewpoint import Viewpoint

NOTHING = np.empty((0, 0))


def paint(
    layer: Layer, picture: np.ndarray, nearest: np.ndarray | None, viewpoint: Viewpoint, view: np.ndarray
) -> None:
    """Blend a layer's haze over a picture, up to the depths in `nearest`. view: pixels a metre at a depth of one metre,
    and the middle of the view in pixels, (3,)."""
    volume = layer.shown.volume
    assert volume is not None
    eye, axes = np.asarray(viewpoint.position, np.float64), np.ascontiguousarray(viewpoint.axes())
    depth = NOTHING if nearest is None else nearest

    def band(first: int, last: int) -> None:
        march_rays(picture, depth, first, last, volume.grid, volume.low, volume.cell, eye, axes, view, volume.adding)

    paint_in_bands(band, picture.shape[0], True)
