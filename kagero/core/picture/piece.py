"""Painting of bodies on particles (client/src/stage/looks/piece.ts)."""

from __future__ import annotations

import numpy as np

from ..kernels.items import BODY
from . import picture as pictures
from .layers import Layer
from .viewpoint import Viewpoint

KIND = BODY
FULL = 0.9985  # opacity from which on a body hides what is behind it


def half_sizes(layer: Layer) -> tuple[np.ndarray, np.ndarray]:
    """Return zero twice: a body covers only its triangles."""
    none = np.zeros(len(layer), np.float32)
    return none, none


def traits(layer: Layer, out: np.ndarray) -> None:
    if layer.sheets is not None:
        pictures.traits(layer, out)


def is_opaque(layer: Layer) -> np.ndarray:
    """Return which of a layer's bodies hide what is behind them, (n,)."""
    drawing, sheets = layer.shown.look.drawing, layer.sheets
    clear = bool(drawing["clear"]) and (sheets is None or sheets.opaque)
    return (layer.column("opacity") >= FULL) & clear


def matrices(q: np.ndarray) -> np.ndarray:
    """Return rotation matrices of unit quaternions (n, 4), (n, 3, 3) float64."""
    q = q.astype(np.float64)
    x, y, z, w = (q / np.maximum(np.linalg.norm(q, axis=1, keepdims=True), 1e-12)).T
    rows = (
        (1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)),
        (2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)),
        (2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)),
    )
    return np.stack([np.stack(row, axis=1) for row in rows], axis=1)


def form_numbers(layer: Layer) -> np.ndarray:
    """Return the number of each particle's form, (n,) int64."""
    assert layer.forms is not None
    return np.maximum(layer.column("form"), 0).astype(np.int64) % max(len(layer.forms), 1)


def body_matrices(layer: Layer, viewpoint: Viewpoint) -> tuple[np.ndarray, np.ndarray]:
    """Return transforms from each body's own space to eye space, (n, 3, 4) float64, and those of its normals, (n, 3,
    3)."""
    assert layer.forms is not None
    drawing, column, which = layer.shown.look.drawing, layer.column, form_numbers(layer)
    box = layer.forms.box[which]
    span = box[:, 1] - box[:, 0]
    unit = np.ones(len(which)) if drawing["sized"] == "own" else 1 / np.maximum(span.max(axis=1), 1e-9)
    size = (column("size").astype(np.float64) * unit)[:, None] * np.stack(
        [column("wide"), column("tall"), column("deep")], axis=1
    )
    middle = (box[:, 0] + box[:, 1]) / 2
    held = {
        "middle": middle,
        "origin": np.zeros_like(middle),
        "base": np.stack([middle[:, 0], box[:, 0, 1], middle[:, 2]], axis=1),
    }[drawing["pivots"]]
    held = held + column("pivot").astype(np.float64) * span / 2
    axes = viewpoint.axes()
    turn = matrices(column("turn"))
    if not drawing["eye"]:
        turn = axes @ turn
    stand = turn * size[:, None, :]
    places = (layer.positions().astype(np.float64) - np.asarray(viewpoint.position, np.float64)) @ axes.T
    where = places - np.einsum("nij,nj->ni", stand, held)
    return np.concatenate([stand, where[:, :, None]], axis=2), turn / np.maximum(size, 1e-12)[:, None, :]
