"""Painting of pictures on particles (client/src/stage/looks/picture.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import (
    BRIGHT,
    CUT,
    DARK,
    MIN_HALF_WIDTH,
    MIX,
    OFFSET,
    PAGE,
    PICTURE,
    RIM_COLOUR,
    SPREAD,
    TILES,
    TONED,
    TURNED,
)
from .layers import Layer

KIND = PICTURE


def half_sizes(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and height, metres; the longer side has the particle's size."""
    assert layer.sheets is not None
    size, aspect = layer.column("size") / 2, layer.sheets.aspect
    return size * min(aspect, 1) * layer.column("wide"), size * min(1 / aspect, 1) * layer.column("tall")


def _turned(q: np.ndarray, axis: np.ndarray) -> np.ndarray:
    """Return an axis rotated by unit quaternions (n, 4), (n, 3)."""
    side = np.cross(q[:, :3], axis)
    return axis + 2 * (q[:, 3:] * side + np.cross(q[:, :3], side))


def half_axes(layer: Layer, eye: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and height as vectors in world space, (n, 3) float64 metres each. eye: the
    camera's right and up, (2, 3). Pictures face the camera, or are oriented in space."""
    turn, (along, across) = (
        layer.column("rotation").astype(np.float64)[:, None],
        (side[:, None].astype(np.float64) for side in half_sizes(layer)),
    )
    cosine, sine = np.cos(turn), np.sin(turn)
    right, up = eye[0][None, :], eye[1][None, :]
    if "turn" in layer.shown.look.given:
        q = layer.column("turn").astype(np.float64)
        q /= np.maximum(np.linalg.norm(q, axis=1, keepdims=True), 1e-9)
        right, up = (_turned(q, np.array(axis)) for axis in ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
    return along * (cosine * right + sine * up), across * (cosine * up - sine * right)


def placement_on_particle(layer: Layer, eye: np.ndarray | None) -> np.ndarray:
    """Return each picture's placement on its particle, as LAID of `kernels.items`, (n, 6). A projected picture is
    placed where its projector throws it, without perspective within a particle."""
    if layer.projector is None or eye is None:
        return np.broadcast_to(np.array(SPREAD), (len(layer), 6))
    assert layer.sheets is not None
    places, aspect = layer.positions().astype(np.float64), layer.sheets.aspect
    middle = layer.projector.project_points(places, aspect)
    a, b = (
        (layer.projector.project_points(places + axis, aspect) - layer.projector.project_points(places - axis, aspect))
        / 2
        for axis in half_axes(layer, eye)
    )
    return np.stack([middle[:, 0], a[:, 0], b[:, 0], middle[:, 1], a[:, 1], b[:, 1]], axis=1)


def projected_halves(across: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return half of the projected width and height of pictures that are oriented in space, pixels, (n, 4), at least
    the smallest that can be drawn, and the factor of opacity for those enlarged, (n,). across: the projected halves."""
    wide, tall = across[:, :2].copy(), across[:, 2:].copy()
    long = np.linalg.norm(wide, axis=1)
    fainter = np.minimum(long / MIN_HALF_WIDTH, 1)
    wide = np.where((long < MIN_HALF_WIDTH)[:, None], wide / np.maximum(long, 1e-9)[:, None] * MIN_HALF_WIDTH, wide)
    wide[long < 1e-9] = (MIN_HALF_WIDTH, 0)
    long = np.maximum(long, MIN_HALF_WIDTH)
    over = np.stack([-wide[:, 1], wide[:, 0]], axis=1) / long[:, None]
    thick = (over * tall).sum(axis=1)
    lacks = np.maximum(MIN_HALF_WIDTH - np.abs(thick), 0)
    tall += over * (np.where(thick < 0, -1, 1) * lacks)[:, None]
    return np.concatenate([wide, tall], axis=1), fainter * np.minimum(np.abs(thick) / MIN_HALF_WIDTH, 1)


def traits(layer: Layer, out: np.ndarray) -> None:
    assert layer.sheets is not None
    column = layer.column
    out[:, PAGE] = np.clip(column("page"), 0, layer.sheets.main.cells - 1e-3)
    for at, name in (
        (TILES, "tiles"),
        (OFFSET, "offset"),
        (CUT, "cut"),
        (RIM_COLOUR, "rim_colour"),
        (DARK, "dark"),
        (BRIGHT, "bright"),
    ):
        values = column(name)
        out[:, at : at + values.shape[1]] = values
    for at, name in ((TURNED, "turned"), (MIX, "mix"), (TONED, "toned")):
        out[:, at] = column(name)
