"""Layers with replaced columns: coverage stays, the values change."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ..kernels.shading import Lights, light_at
from .layers import Layer
from .viewpoint import Viewpoint

F32 = np.float32


def with_columns(layer: Layer, columns: Mapping[str, np.ndarray]) -> Layer:
    """Return a layer with some columns replaced; columns of lines have one value for each point."""
    strands = layer.shown.strands
    given = layer.shown.look.given | set(columns)
    look = replace(layer.shown.look, given=frozenset(given))
    if strands is not None:
        return replace(
            layer,
            shown=replace(layer.shown, look=look, strands=replace(strands, columns={**strands.columns, **columns})),
        )
    return replace(layer, shown=replace(layer.shown, look=look, columns={**layer.shown.columns, **columns}))


def as_occluder(layer: Layer) -> Layer:
    """Return a layer that hides what is behind it and gives no light. Multiplied layers stay as they are, since they
    give none."""
    look, shown = layer.shown.look, layer.shown
    if look.drawing["blend"] == "multiply":
        return layer
    dark = replace(look, drawing={**look.drawing, "lit": False})
    layer = replace(layer, shown=replace(shown, look=dark), shines=False)
    if shown.surface is not None:
        tints = shown.surface.tints.copy()
        tints[:, :3] = 0
        return replace(layer, shown=replace(layer.shown, surface=replace(shown.surface, tints=tints)))
    if shown.volume is not None:
        grid = shown.volume.grid.copy()
        grid[..., :3] = 0
        return replace(layer, shown=replace(layer.shown, volume=replace(shown.volume, grid=grid)))
    names = {column.name for column in look.columns} & COLOURS
    return with_columns(layer, {name: np.zeros((len(layer), 3), F32) for name in names})


COLOURS = frozenset({"colour", "dark", "bright", "rim_colour"})


def lit_layer(layer: Layer, viewpoint: Viewpoint, lights: Lights) -> Layer:
    """Return a layer whose colours are multiplied by the light at each particle, for looks that are lit and have no
    surface."""
    look = layer.shown.look
    if (
        not look.drawing.get("lit")
        or layer.forms is not None
        or layer.shown.surface is not None
        or layer.shown.volume is not None
        or not len(layer)
    ):
        return layer
    places = (layer.positions().astype(np.float64) - np.asarray(viewpoint.position, np.float64)) @ viewpoint.axes().T
    fallen = np.empty((len(layer), 3))
    _fall_on(np.ascontiguousarray(places), lights, fallen)
    names = {
        column.name
        for column in look.columns
        if column.name in COLOURS and (column.name in look.given or column.name == "colour")
    }
    return with_columns(layer, {name: (layer.column(name) * fallen).astype(F32) for name in names})


_fall_on: Any = light_at


def with_values(layer: Layer, values: np.ndarray) -> Layer | None:
    """Return a layer that paints three values of each particle, (n, 3) float32, in place of light: at each pixel those
    of the nearest with enough coverage. None for layers that are seen through. Points of lines take their particle's
    values."""
    look, shown = layer.shown.look, layer.shown
    if shown.volume is not None:
        return None
    plain = replace(look, drawing={**look.drawing, "lit": False, "blend": "tell", "gloss": 0.0})
    layer = replace(layer, shown=replace(shown, look=plain))
    values = np.ascontiguousarray(values, F32)
    if shown.surface is not None:
        return layer  # its values are told by `tinted`
    if shown.strands is not None:
        values = values if len(values) == len(shown.strands) else values[shown.strands.owner]
    columns: dict[str, np.ndarray] = dict.fromkeys(
        {column.name for column in look.columns} & {"colour", "dark", "bright"}, values
    )
    if any(column.name == "toned" for column in look.columns):  # a picture's own colours count for nothing
        columns["toned"] = np.ones(len(layer), F32)
        columns["rim_colour"] = np.zeros((len(layer), 3), F32)
        if "cut" in look.given:
            columns["cut"] = layer.column("cut").copy()
            columns["cut"][:, 2] = 0
    return with_columns(layer, columns)


def with_surface_values(layer: Layer, values: np.ndarray) -> Layer:
    """Return a layer whose surface paints three values of each of its points, (V, 3)."""
    surface = layer.shown.surface
    assert surface is not None
    tints = surface.tints.copy()
    tints[:, :3] = values
    return replace(layer, sheets=None, shown=replace(layer.shown, surface=replace(surface, tints=tints)))
