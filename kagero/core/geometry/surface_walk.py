"""Ground to walk on: which triangles of a mesh lie beside each other, also where a seam of (u, v) parts their
points."""

from __future__ import annotations

from functools import cached_property

import numpy as np
import scipy

from ..kernels import surface_walk
from .mesh import Mesh, Places

NEAR = 1e-6  # how far apart, in shares of a mesh's size, points are that are one
EDGES = {"hold": surface_walk.HOLD, "turn": surface_walk.TURN, "release": surface_walk.RELEASE}


class WalkableMesh:
    """A mesh to be walked on, from face to face."""

    def __init__(self, mesh: Mesh):
        self.mesh = mesh

    @cached_property
    def welded(self) -> np.ndarray:
        """The number of each point, (V,), the same for points that lie in one place."""
        points = self.mesh.points.astype(np.float64)
        near = scipy.spatial.cKDTree(points).query_pairs(
            NEAR * (float(np.ptp(points, axis=0).max()) or 1.0), output_type="ndarray"
        )
        links = scipy.sparse.coo_matrix((np.ones(len(near)), (near[:, 0], near[:, 1])), shape=(len(points),) * 2)
        return np.asarray(scipy.sparse.csgraph.connected_components(links, directed=False)[1], np.int64)

    @cached_property
    def beside(self) -> np.ndarray:
        """Of each triangle's edges the triangle beyond (-1: none), and its corners at the edge's two ends, (F, 3, 3):
        see `kernels.surface_walk`."""
        corners = self.welded[self.mesh.faces]
        count = len(corners)
        flat = (corners[:, [0, 1, 2]] == corners[:, [1, 2, 0]]).any(axis=1)  # has no extent: nobody is on it
        first, second = corners.ravel(), corners[:, [1, 2, 0]].ravel()
        key = np.minimum(first, second) * (int(corners.max(initial=0)) + 1) + np.maximum(first, second)
        usable = np.flatnonzero(~np.repeat(flat, 3))
        order = usable[np.argsort(key[usable], kind="stable")]
        neighbours = np.full((count * 3, 3), -1, np.int64)
        same = np.flatnonzero(key[order[1:]] == key[order[:-1]]) if len(order) > 1 else np.zeros(0, np.int64)
        new = np.ones(len(same), bool)  # of three and more that share an edge the first two
        new[1:] = np.diff(same) > 1
        a, b = order[same[new]], order[same[new] + 1]
        for here, there in ((a, b), (b, a)):
            face, at, to = there // 3, there % 3, (there % 3 + 1) % 3
            straight = first[here] == first[there]
            neighbours[here] = np.column_stack([face, np.where(straight, at, to), np.where(straight, to, at)])
        return neighbours.reshape(count, 3, 3)

    def go(
        self, places: Places, direction: np.ndarray, more: np.ndarray, corners: np.ndarray, edge: str
    ) -> tuple[Places, np.ndarray, np.ndarray]:
        """Return where places come to along vectors (n, 3), metres, what a second vector (n, 3) is there, and who came
        to an open edge that lets go, (n,). corners: of the triangles as they stand, (F, 3, 3); edge: hold, turn or
        release."""
        face = places.face.astype(np.int64)
        b1, b2 = (np.ascontiguousarray(places.bary[:, k], np.float64) for k in (1, 2))
        left, carried, gone = np.array(direction, np.float64), np.array(more, np.float64), np.empty(len(face))
        surface_walk.walk(
            face, b1, b2, left, carried, np.ascontiguousarray(corners, np.float64), self.beside, EDGES[edge], gone
        )
        return Places(face, np.column_stack([1 - b1 - b2, b1, b2])), carried, gone
