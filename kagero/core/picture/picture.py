"""Pictures on particles as they are painted (client/src/stage/looks/picture.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import (
    BRIGHT,
    CUT,
    DARK,
    LEAST,
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


def half(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and half of its height, metres: the longer side is as long as its size says."""
    assert layer.sheets is not None
    size, aspect = layer.column("size") / 2, layer.sheets.aspect
    return size * min(aspect, 1) * layer.column("wide"), size * min(1 / aspect, 1) * layer.column("tall")


def _turned(q: np.ndarray, axis: np.ndarray) -> np.ndarray:
    """Return an axis turned by unit quaternions (n, 4), (n, 3)."""
    side = np.cross(q[:, :3], axis)
    return axis + 2 * (q[:, 3:] * side + np.cross(q[:, :3], side))


def ways(layer: Layer, eye: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return half of each picture's width and of its height in the world, as vectors, (n, 3) float64 metres each. eye: the right and up of who looks,
    (2, 3): pictures face it, or are turned in space."""
    turn, (along, across) = (
        layer.column("rotation").astype(np.float64)[:, None],
        (side[:, None].astype(np.float64) for side in half(layer)),
    )
    cosine, sine = np.cos(turn), np.sin(turn)
    right, up = eye[0][None, :], eye[1][None, :]
    if "turn" in layer.shown.look.given:
        q = layer.column("turn").astype(np.float64)
        q /= np.maximum(np.linalg.norm(q, axis=1, keepdims=True), 1e-9)
        right, up = (_turned(q, np.array(axis)) for axis in ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)))
    return along * (cosine * right + sine * up), across * (cosine * up - sine * right)


def laid(layer: Layer, eye: np.ndarray | None) -> np.ndarray:
    """Return where each picture lies on its particle, as LAID of `kernels.drawing`, (n, 6). eye: as of `ways`: one that is projected lies where its
    projector throws it, seen straight within a particle."""
    if layer.projector is None or eye is None:
        return np.broadcast_to(np.array(SPREAD), (len(layer), 6))
    assert layer.sheets is not None
    places, aspect = layer.positions().astype(np.float64), layer.sheets.aspect
    middle = layer.projector.thrown(places, aspect)
    a, b = (
        (layer.projector.thrown(places + axis, aspect) - layer.projector.thrown(places - axis, aspect)) / 2
        for axis in ways(layer, eye)
    )
    return np.stack([middle[:, 0], a[:, 0], b[:, 0], middle[:, 1], a[:, 1], b[:, 1]], axis=1)


def seen(across: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return pictures that are turned in space as they are painted: half of their width and height in the picture, pixels, (n, 4), none thinner than
    can be, and how much fainter they are for that, (n,). across: the same as they are projected."""
    wide, tall = across[:, :2].copy(), across[:, 2:].copy()
    long = np.linalg.norm(wide, axis=1)
    fainter = np.minimum(long / LEAST, 1)
    wide = np.where((long < LEAST)[:, None], wide / np.maximum(long, 1e-9)[:, None] * LEAST, wide)
    wide[long < 1e-9] = (LEAST, 0)
    long = np.maximum(long, LEAST)
    over = np.stack([-wide[:, 1], wide[:, 0]], axis=1) / long[:, None]
    thick = (over * tall).sum(axis=1)
    lacks = np.maximum(LEAST - np.abs(thick), 0)
    tall += over * (np.where(thick < 0, -1, 1) * lacks)[:, None]
    return np.concatenate([wide, tall], axis=1), fainter * np.minimum(np.abs(thick) / LEAST, 1)


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
