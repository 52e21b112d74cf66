"""Layers with other values in their columns: what they cover stays, what they give is another thing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from .layers import Layer

F32 = np.float32


def with_columns(layer: Layer, columns: Mapping[str, np.ndarray]) -> Layer:
    """Return a layer with other columns in place of some, each of what is drawn: of lines of each place."""
    strands = layer.shown.strands
    given = layer.shown.look.given | set(columns)
    look = replace(layer.shown.look, given=frozenset(given))
    if strands is not None:
        return replace(layer, shown=replace(layer.shown, look=look, strands=replace(strands, columns={**strands.columns, **columns})))
    return replace(layer, shown=replace(layer.shown, look=look, columns={**layer.shown.columns, **columns}))


def black(layer: Layer) -> Layer:
    """Return a layer that covers what is behind it and gives no light. What multiplies is left as it is: it gives none."""
    look, shown = layer.shown.look, layer.shown
    if look.drawing["blend"] == "multiply":
        return layer
    dark = replace(look, drawing={**look.drawing, "lit": False})
    layer = replace(layer, shown=replace(shown, look=dark))
    if shown.surface is not None:
        tints = shown.surface.tints.copy()
        tints[:, :3] = 0
        return replace(layer, shown=replace(layer.shown, surface=replace(shown.surface, tints=tints)))
    if shown.volume is not None:
        grid = shown.volume.grid.copy()
        grid[..., :3] = 0
        return replace(layer, shown=replace(layer.shown, volume=replace(shown.volume, grid=grid)))
    names = {column.name for column in look.columns} & {"colour", "dark", "bright", "rim_colour"}
    return with_columns(layer, {name: np.zeros((len(layer), 3), F32) for name in names})
