"""Haze as it is painted (client/src/stage/hazelayer.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.drawing import banded
from ..kernels.haze import march
from .layers import Layer
from .viewpoint import Viewpoint

NOTHING = np.empty((0, 0))


def paint(
    layer: Layer, picture: np.ndarray, nearest: np.ndarray | None, viewpoint: Viewpoint, view: np.ndarray
) -> None:
    """Lay a layer's haze over a picture, as far as something stands in nearest. view: pixels a metre at one metre's depth, and where the middle
    of the view is, pixels, (3,)."""
    volume = layer.shown.volume
    assert volume is not None
    eye, axes = np.asarray(viewpoint.position, np.float64), np.ascontiguousarray(viewpoint.axes())
    depth = NOTHING if nearest is None else nearest

    def band(first: int, last: int) -> None:
        march(picture, depth, first, last, volume.grid, volume.low, volume.cell, eye, axes, view, volume.adding)

    banded(band, picture.shape[0], True)
