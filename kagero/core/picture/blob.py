"""Painting of surfaces that particles form together (client/src/stage/surfacelayer.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.compositing import MIN_VALUE_COVERAGE
from ..kernels.drawing import paint_in_bands
from ..kernels.shading import Lights
from ..kernels.surfaces import paint_surface
from .items import EDGE, joined
from .layers import Layer
from .viewpoint import Viewpoint


def paint(
    layer: Layer, picture: np.ndarray, nearest: np.ndarray, viewpoint: Viewpoint, view: np.ndarray, lamps: Lights
) -> None:
    """Paint a layer's surface into a picture and its depth: at each pixel only the nearest point, which hides what is
    behind.

    view: pixels a metre at a depth of one metre, and the middle of the view in pixels, (3,). lamps: as in
    `kernels.shading`.
    """
    surface, drawing = layer.shown.surface, layer.shown.look.drawing
    assert surface is not None
    if not len(surface.faces):
        return
    axes = viewpoint.axes()
    seen = (surface.points.astype(np.float64) - np.asarray(viewpoint.position, np.float64)) @ axes.T
    away = -seen[:, 2]
    near = view[0] / np.maximum(away, 0.02)
    x, y = view[1] + seen[:, 0] * near, view[2] - seen[:, 1] * near
    normals = np.ascontiguousarray(surface.normals.astype(np.float64) @ axes.T)
    painted = np.zeros_like(picture)
    depth = nearest.copy()
    tints = np.ascontiguousarray(surface.tints[:, :4])

    sheets = joined([layer.sheets.main] if layer.sheets is not None else [])
    uv = surface.uv if layer.sheets is not None else surface.uv[:0]
    edges = EDGE[drawing["edges"]]

    def band(first: int, last: int) -> None:
        paint_surface(
            painted,
            depth,
            first,
            last,
            x,
            y,
            away,
            surface.faces,
            normals,
            tints,
            view,
            bool(drawing["lit"]),
            float(drawing["gloss"]),
            lamps,
            uv,
            sheets.texels,
            sheets.info,
            sheets.plates,
            edges,
        )

    paint_in_bands(band, picture.shape[0], len(surface.faces) > 2000)
    here = painted[..., 3] > 0
    _blend(
        picture, painted, here, str(drawing["blend"]), surface.tints[:, 4].mean() if surface.tints.shape[1] > 4 else 1.0
    )
    nearest[here] = depth[here]


def _blend(picture: np.ndarray, drawn: np.ndarray, here: np.ndarray, blend: str, cover: float) -> None:
    """Blend the light and coverage of a surface over a picture."""
    light, covers, before = drawn[here], drawn[here][:, 3:], picture[here]
    if blend == "screen":
        picture[here, :3] = light[:, :3] + before[:, :3] * (1 - np.minimum(light[:, :3], 1))
    elif blend == "tell":
        counts = covers[:, 0] >= MIN_VALUE_COVERAGE
        picture[here] = np.where(
            counts[:, None],
            np.concatenate([light[:, :3] / np.maximum(covers, 1e-9), np.ones_like(covers)], axis=1),
            before,
        )
    elif blend == "multiply":
        picture[here, :3] = before[:, :3] * (1 - covers + light[:, :3])
    else:
        picture[here, :3] = light[:, :3] + before[:, :3] * (1 - covers * cover)
        picture[here, 3:] = covers * cover + before[:, 3:] * (1 - covers * cover)
