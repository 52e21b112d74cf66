"""Pictures on particles as they are painted (client/src/stage/looks/picture.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.drawing import BRIGHT, CUT, DARK, MIX, OFFSET, PAGE, PICTURE, RIM_COLOUR, TILES, TONED, TURNED
from .layers import Layer

KIND = PICTURE


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and half of its height, metres: the longer side is as long as its size says."""
    assert layer.sheets is not None
    size, aspect = layer.column("size") / 2, layer.sheets.aspect
    return size * min(aspect, 1) * layer.column("wide"), size * min(1 / aspect, 1) * layer.column("tall")


def traits(layer: Layer, out: np.ndarray) -> None:
    assert layer.sheets is not None
    column = layer.column
    out[:, PAGE] = np.clip(column("page"), 0, layer.sheets.main.cells - 1e-3)
    for at, name in ((TILES, "tiles"), (OFFSET, "offset"), (CUT, "cut"), (RIM_COLOUR, "rim_colour"), (DARK, "dark"), (BRIGHT, "bright")):
        values = column(name)
        out[:, at : at + values.shape[1]] = values
    for at, name in ((TURNED, "turned"), (MIX, "mix"), (TONED, "toned")):
        out[:, at] = column(name)
