"""Pictures on particles as they are painted (client/src/stage/looks/picture.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.drawing import BRIGHT, CUT, DARK, MIX, OFFSET, PAGE, PICTURE, RIM_COLOUR, SPREAD, TILES, TONED, TURNED
from .layers import Layer

KIND = PICTURE


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and half of its height, metres: the longer side is as long as its size says."""
    assert layer.sheets is not None
    size, aspect = layer.column("size") / 2, layer.sheets.aspect
    return size * min(aspect, 1) * layer.column("wide"), size * min(1 / aspect, 1) * layer.column("tall")


def laid(layer: Layer, axes: np.ndarray | None) -> np.ndarray:
    """Return where each picture lies on its particle, as LAID of `kernels.drawing`, (n, 6). axes: of the eye, to the right and up, (2, 3): a picture
    that is projected lies where its projector throws it, seen straight within a particle."""
    if layer.projector is None or axes is None:
        return np.broadcast_to(np.array(SPREAD), (len(layer), 6))
    assert layer.sheets is not None
    turn, (along, across) = layer.column("rotation").astype(np.float64)[:, None], (side[:, None] for side in half(layer))
    right, up = axes[0][None, :], axes[1][None, :]
    places, aspect = layer.positions().astype(np.float64), layer.sheets.aspect
    wide, tall = along * (np.cos(turn) * right + np.sin(turn) * up), across * (np.cos(turn) * up - np.sin(turn) * right)
    middle = layer.projector.thrown(places, aspect)
    a, b = ((layer.projector.thrown(places + way, aspect) - layer.projector.thrown(places - way, aspect)) / 2 for way in (wide, tall))
    return np.stack([middle[:, 0], a[:, 0], b[:, 0], middle[:, 1], a[:, 1], b[:, 1]], axis=1)


def traits(layer: Layer, out: np.ndarray) -> None:
    assert layer.sheets is not None
    column = layer.column
    out[:, PAGE] = np.clip(column("page"), 0, layer.sheets.main.cells - 1e-3)
    for at, name in ((TILES, "tiles"), (OFFSET, "offset"), (CUT, "cut"), (RIM_COLOUR, "rim_colour"), (DARK, "dark"), (BRIGHT, "bright")):
        values = column(name)
        out[:, at : at + values.shape[1]] = values
    for at, name in ((TURNED, "turned"), (MIX, "mix"), (TONED, "toned")):
        out[:, at] = column(name)
