"""Discs in a picture, as the stage draws them (client/src/stage/looks/soft_disc.ts)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kernels.splat import splat_discs
from ..simulation import Shown
from .viewpoint import NEAR, Viewpoint


def draw_discs(picture: np.ndarray, shown: Sequence[Shown], viewpoint: Viewpoint, nearest: np.ndarray | None) -> None:
    """Paint the particles of emitters from back to front into a picture, (height, width, 4) float32: linear light, premultiplied.

    nearest: how far away the solids before them are, (height, width) metres, if there are any.
    """
    height, width = picture.shape[:2]
    position = np.concatenate([part.positions() for part in shown])
    names = ("size", "opacity", "colour", "stretch", "rotation", "hardness", "cover")
    size, opacity, colour, stretch, rotation, hardness, cover = (np.concatenate([part.column(name) for part in shown]) for name in names)
    shape = np.stack([stretch, rotation, hardness], axis=1)
    x, y, depth, focal = viewpoint.project(position, width, height)
    order = np.argsort(-depth, kind="stable")
    order = order[depth[order] > NEAR]
    radius = size[order] / 2 * focal / depth[order]
    splat_discs(picture, x[order].astype(np.float32), y[order].astype(np.float32), radius.astype(np.float32),
                np.ascontiguousarray(colour[order]), opacity[order], cover[order], np.ascontiguousarray(shape[order], np.float32),
                depth[order], nearest)  # fmt: skip
