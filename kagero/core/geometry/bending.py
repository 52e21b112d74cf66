"""Rotation of a bending mesh's surface since rest, smooth from triangle to triangle, so that offsets neither tear nor
jump at edges.

Each triangle rotates with its own axes. At a point the rotations of its triangles are averaged by their angles there
(the weights of smooth normals: Thuermer and Wuethrich, "Computing vertex normals from polygonal facets", 1998); between
points they are interpolated.
"""

from __future__ import annotations

from collections import OrderedDict
from typing import Any

import numpy as np
import scipy.sparse

F64 = np.float64
KEPT = 8  # moments of one mesh


def axes(corners: np.ndarray) -> np.ndarray:
    """Return triangles' axes, (n, 3, 3) by rows: along the first side, across it, along the normal. corners: (n, 3,
    3)."""
    along = corners[:, 1] - corners[:, 0]
    up = np.cross(along, corners[:, 2] - corners[:, 0])
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
    up = up / np.maximum(np.linalg.norm(up, axis=1, keepdims=True), 1e-300)
    return np.stack([along, np.cross(up, along), up], axis=1)


class Bending:
    """Rotations of a mesh with frames. rest: corners (F, 3, 3). points, normals: at rest, (V, 3). faces: (F, 3)."""

    def __init__(self, rest: np.ndarray, points: np.ndarray, normals: np.ndarray, faces: np.ndarray):
        self._rest, self._normals, self._faces = axes(rest), normals, faces
        # points that lie together with one normal are one, or the surface would tear where its (u, v) do
        together = np.concatenate([points.astype(F64).round(6), normals.round(3)], axis=1)
        _, self._of = np.unique(together, axis=0, return_inverse=True)
        self._of = self._of.reshape(-1)
        sides = [rest[:, (k + 1) % 3] - rest[:, k] for k in range(3)]
        lengths = [np.maximum(np.linalg.norm(side, axis=1), 1e-300) for side in sides]
        cosines = [-np.einsum("ij,ij->i", sides[k], sides[k - 1]) / (lengths[k] * lengths[k - 1]) for k in range(3)]
        angles = np.arccos(np.clip(np.stack(cosines, axis=1), -1, 1))
        which = np.repeat(np.arange(len(faces)), 3)
        self._about = scipy.sparse.csr_matrix(
            (angles.ravel(), (self._of[faces].ravel(), which)), shape=(self._of.max(initial=-1) + 1, len(faces))
        )
        self._known: OrderedDict[float, np.ndarray] = OrderedDict()

    def turnings(self, clock: float, corners: Any) -> np.ndarray:
        """Return the points' mean rotations since rest, (V, 3, 3), not exactly orthonormal. clock: seconds. corners:
        gives the corners then, (F, 3, 3)."""
        found = self._known.get(clock)
        if found is None:
            each = np.einsum("nki,nkj->nij", axes(corners(clock)), self._rest)
            found = (self._about @ each.reshape(-1, 9))[self._of].reshape(-1, 3, 3)
            self._known[clock] = found
            while len(self._known) > KEPT:
                self._known.popitem(last=False)
        return found

    def normals(self, turnings: np.ndarray) -> np.ndarray:
        """Return the points' unit normals after such rotations, (V, 3)."""
        turned = np.einsum("nij,nj->ni", turnings, self._normals)
        length = np.linalg.norm(turned, axis=1, keepdims=True)
        return np.where(length > 1e-300, turned / np.maximum(length, 1e-300), self._normals)

    def turned(self, turnings: np.ndarray, face: np.ndarray, bary: np.ndarray) -> np.ndarray:
        """Return the surface's rotation at places, (n, 3, 3): its smooth normal at rest becomes the interpolated one of
        now."""
        corner = self._faces[face]
        was = _unit(np.einsum("nk,nkj->nj", bary, self._normals[corner]))
        now = _unit(np.einsum("nk,nkj->nj", bary, self.normals(turnings)[corner]))
        mean = np.einsum("nk,nkij->nij", bary, turnings[corner])
        side = np.where(np.abs(was[:, :1]) < 0.8, (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        side = _unit(side - was * np.einsum("ij,ij->i", side, was)[:, None])
        goes = np.einsum("nij,nj->ni", mean, side)
        goes = _unit(goes - now * np.einsum("ij,ij->i", goes, now)[:, None])
        before, after = (np.stack([a, np.cross(n, a), n], axis=1) for a, n in ((side, was), (goes, now)))
        return np.einsum("nki,nkj->nij", after, before)


def _unit(vectors: np.ndarray) -> np.ndarray:
    unit: np.ndarray = vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-300)
    return unit
