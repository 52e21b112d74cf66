"""Painting of line segments (client/src/stage/looks/strand.ts): each from one point of a line to the next.

A segment's edges end where those of the next begin, so that no pixel is painted twice at a joint.
"""

from __future__ import annotations

import numpy as np

from ..kernels.items import AWAY, ENDS, FIRST_PIECE, HALVES, HARD, LAST_PIECE, LIES, LIGHT, MIN_HALF_WIDTH, PIECE, WIDE
from .layers import Layer

KIND = PIECE
SHARPEST = 0.5  # the cosine of half of how far a band turns, below which its corner gets no longer


def pieces(
    layer: Layer,
    x: np.ndarray,
    y: np.ndarray,
    away: np.ndarray,
    scale: np.ndarray,
    flat: np.ndarray | None,
    axes: np.ndarray,
    light: np.ndarray,
    traits: np.ndarray,
) -> None:
    """Write the segments that begin at each point of a layer's lines into axes, light and traits of items; those that
    join nothing cover nothing.

    x, y, away, scale: of each point. flat: half of the width of bands fixed in space, pixels, (p, 2), otherwise None.
    """
    strands = layer.shown.strands
    assert strands is not None
    joined, column = strands.joined, layer.column
    place = np.stack([x, y], axis=1)
    half, across = widths(place, joined, column("size") / 2 * scale, flat if strands.across is not None else None)
    fainter = np.where(column("size") > 0, np.minimum(half / MIN_HALF_WIDTH, 1), 0)
    half = np.maximum(half, MIN_HALF_WIDTH)
    wide = across * half[:, None]
    shine = np.concatenate([column("colour"), (column("opacity") * fainter)[:, None]], axis=1)
    begins = np.concatenate([[True], ~joined[:-1]])
    axes[:, :2], axes[:, 2:] = _next(place) - place, wide
    light[:] = shine
    light[~joined, 3] = 0
    traits[:, HARD] = np.clip(column("hardness"), 0, 1) if layer.sheets is None else 1
    traits[:, WIDE : WIDE + 2] = _next(wide)
    traits[:, LIGHT : LIGHT + 4] = np.where(joined[:, None], _next(shine), 0)
    lies = column("lies")
    traits[:, LIES], traits[:, LIES + 1] = lies, _next(lies)
    traits[:, HALVES], traits[:, HALVES + 1] = half, _next(half)
    traits[:, AWAY] = _next(away)
    traits[:, ENDS] = begins * FIRST_PIECE + ~np.append(joined[1:], False) * LAST_PIECE


def _next(values: np.ndarray) -> np.ndarray:
    return np.concatenate([values[1:], values[-1:]])


def widths(
    place: np.ndarray, joined: np.ndarray, half: np.ndarray, flat: np.ndarray | None
) -> tuple[np.ndarray, np.ndarray]:
    """Return half of the width of bands at each point of their lines, pixels, (p,), and its direction, (p, 2).

    place: (p, 2) pixels. Where a band that faces the camera bends, the direction is longer than 1, so that the band
    keeps its width on both sides of the corner.
    """
    if flat is not None:
        half = np.linalg.norm(flat, axis=1)
        return half, flat / np.maximum(half, 1e-9)[:, None]
    piece = np.diff(place, axis=0)
    piece = piece / np.maximum(np.linalg.norm(piece, axis=1, keepdims=True), 1e-9) * joined[:-1, None]
    along = np.zeros_like(place)
    along[:-1] += piece
    along[1:] += piece
    size = np.linalg.norm(along, axis=1, keepdims=True)
    alone = np.ones(len(place))
    alone[1:-1] = np.where(joined[1:-1] & joined[:-2], 2, 1)  # how many pieces meet there
    straight = np.clip(size[:, 0] / alone, SHARPEST, 1)
    along = np.where(size > 1e-6, along / np.maximum(size, 1e-9), (1.0, 0.0))
    return half, np.stack([-along[:, 1], along[:, 0]], axis=1) / straight[:, None]
