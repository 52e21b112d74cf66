"""Rails: what rides go along. On a mesh places by (u, v), which go round where the surface does; on a path places by
its length."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from ..kernels import surface_frames
from .mesh import Mesh, Places

F64 = np.float64
SEAM_TOLERANCE = 1e-5  # how far apart, in shares of a mesh's size, the two sides of a seam may be


class SurfaceRails:
    """The (u, v) of a mesh, to be ridden."""

    def __init__(self, mesh: Mesh):
        self.mesh = mesh

    @cached_property
    def _flat(self) -> np.ndarray:
        """Of each triangle its first corner's (u, v) and the inverse of its two sides there, (F, 6); noughts where it
        has no extent."""
        uv = self.mesh.uv.astype(F64)[self.mesh.faces]
        a, b = uv[:, 1] - uv[:, 0], uv[:, 2] - uv[:, 0]
        det = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        some = np.where(np.abs(det) > 1e-18, det, np.inf)
        return np.column_stack([uv[:, 0], b[:, 1] / some, -b[:, 0] / some, -a[:, 1] / some, a[:, 0] / some])

    @cached_property
    def _grid(self) -> tuple[float, float, float, float, int, int, np.ndarray, np.ndarray]:
        """The triangles' (u, v) in cells: lowest corner, size of a cell, how many, and which triangles reach into
        each."""
        uv = self.mesh.uv.astype(F64)[self.mesh.faces]
        flat = np.flatnonzero(np.abs(self._flat[:, 2:]).sum(axis=1) > 0)
        low, high = uv.reshape(-1, 2).min(axis=0), uv.reshape(-1, 2).max(axis=0)
        side = int(np.clip(np.sqrt(max(1, len(flat))), 1, 512))
        size = np.maximum((high - low) / side, 1e-12)
        first = np.clip(np.floor((uv[flat].min(axis=1) - low) / size - 1e-6).astype(np.int64), 0, side - 1)
        last = np.clip(np.floor((uv[flat].max(axis=1) - low) / size + 1e-6).astype(np.int64), 0, side - 1)
        across, up = (last - first + 1).T
        owner = np.repeat(np.arange(len(flat)), across * up)
        step = np.arange(len(owner)) - np.repeat(np.cumsum(across * up) - across * up, across * up)
        cell = (first[owner, 1] + step // across[owner]) * side + first[owner, 0] + step % across[owner]
        order = np.lexsort((flat[owner], cell))
        start = np.searchsorted(cell[order], np.arange(side * side + 1))
        return (
            float(low[0]),
            float(low[1]),
            float(size[0]),
            float(size[1]),
            side,
            side,
            start.astype(np.int64),
            flat[owner][order].astype(np.int64),
        )

    @cached_property
    def closed(self) -> tuple[bool, bool]:
        """Whether u, and v, go round: the surface at 0 is that at 1. So it is with what has (u, v) from 0 to 1
        alone."""
        low, high = self.mesh.uv.min(axis=0, initial=1), self.mesh.uv.max(axis=0, initial=0)
        if not len(self.mesh.faces) or (np.abs(low) > 1e-4).any() or (np.abs(high - 1) > 1e-4).any():
            return False, False
        size = float(np.ptp(self.mesh.points, axis=0).max()) or 1.0
        share, ends = np.linspace(0.02, 0.98, 25), (np.zeros(25), np.ones(25))
        rails = []
        for axis in range(2):
            sides = [self.mesh.at_uv(np.stack((end, share) if axis == 0 else (share, end), axis=1)) for end in ends]
            there = sides[0][1] & sides[1][1]  # the fan about a pole has (u, v) of its own for half of its width
            apart = np.linalg.norm(self.mesh.point(sides[0][0]) - self.mesh.point(sides[1][0]), axis=1)[there]
            pole = (
                np.ptp(self.mesh.point(sides[0][0])[there], axis=0).max(initial=0) < SEAM_TOLERANCE * size
            )  # an end is one point: no way on over it
            rails.append(bool(there.sum() > len(there) / 2 and (apart < SEAM_TOLERANCE * size).all() and not pole))
        return rails[0], rails[1]

    def places(self, uv: np.ndarray) -> Places:
        """Return the places of (u, v), (n, 2); where there is none, the nearest."""
        u, v = (np.ascontiguousarray(uv[:, k], F64) for k in range(2))
        face, b1, b2 = np.empty(len(uv), np.int64), np.zeros(len(uv)), np.zeros(len(uv))
        surface_frames.locate(u, v, *self._grid, self._flat, face, b1, b2)
        lost = face < 0
        if lost.any():
            near, _ = self.mesh._uv_mesh.nearest(np.column_stack([uv[lost], np.zeros(int(lost.sum()))]))
            face[lost], b1[lost], b2[lost] = near.face, near.bary[:, 1], near.bary[:, 2]
        return Places(face, np.column_stack([1 - b1 - b2, b1, b2]))

    def corners(self, clock: float) -> np.ndarray:
        """Return the triangles' corners at a time of the mesh's own animation, (F, 3, 3)."""
        return self.mesh.corners_at(clock)

    def stand(
        self, places: Places, aside: np.ndarray, clock: float, matrices: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray]:
        """Return places in the world and unit normals there, (n, 3) each. aside: metres out, along u and along v, (n,
        3)."""
        n, mesh = len(places), self.mesh
        place, facing = np.empty((n, 3)), np.empty((n, 3))
        corners = self.corners(clock)
        inverse = np.linalg.pinv(matrices[:, :3, :3])
        b1, b2 = (np.ascontiguousarray(places.bary[:, k]) for k in (1, 2))
        normals = mesh.normals_at(clock)
        surface_frames.frames_at(
            places.face.astype(np.int64),
            b1,
            b2,
            np.ascontiguousarray(aside, F64),
            corners,
            self._flat,
            mesh.faces,
            normals,
            np.ascontiguousarray(matrices),
            np.ascontiguousarray(inverse),
            place,
            facing,
        )
        return place, facing


def at_edge(
    share: np.ndarray, closed: bool, edge: str, low: float = 0.0, high: float = 1.0
) -> tuple[np.ndarray, np.ndarray]:
    """Return where places along a direction from `low` to `high` are ridden, and which lie beyond an open end. edge:
    hold, wrap, turn, release."""
    span = high - low
    if closed or edge == "wrap":
        return low + (share - low) % span, np.zeros(len(share), bool)
    beyond = (share < low) | (share > high)
    if edge == "turn":
        y = (share - low) % (2 * span)
        return low + np.minimum(y, 2 * span - y), beyond
    return np.clip(share, low, high), beyond
