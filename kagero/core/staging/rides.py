"""Queries of rides: positions on surfaces and paths, and walks along them."""

from __future__ import annotations

import numpy as np

from ..geometry import Mesh, Path, Places
from ..geometry.ride_rails import SurfaceRails, at_edge
from ..geometry.surface_walk import WalkableMesh
from ..memory import PROCESS
from ..program import PropQuery
from .prop_places import DEFORM_STEP, PropPlaces, inverse, transform_points

F64 = np.float64
_rails_kept = PROCESS.region("rides", 1.0)


class RideQueries(PropPlaces):
    """Queries that rides make about props. Arrays in and out are float64."""

    # rides ----------------------------------------------------------------------------------------------------------
    def surface_ride_places(
        self, query: PropQuery, uv: np.ndarray, aside: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]:
        """Return for rides at (u, v), (n, 2): position, normal (3 each), u, v as ridden, and whether it is past an open
        end; (n,) each.

        aside: offset outwards, along u and along v, metres, (n, 3). query.detail: the ride, whose `edge` says what
        happens at an end.
        """
        uid, n = query.prop, len(uv)
        geometry = self.geometry(uid)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            stands = np.broadcast_to(self.matrices(uid, times)[:, :3, 3], (n, 3))
            return [*stands.T, np.zeros(n), np.ones(n), np.zeros(n), *uv.T, np.zeros(n)]
        rails = self._rails(uid, geometry)
        low, high = geometry.uv.min(axis=0), geometry.uv.max(axis=0)
        ends = [at_edge(uv[:, k], rails.closed[k], query.detail.edge, float(low[k]), float(high[k])) for k in range(2)]
        there = np.stack([ends[0][0], ends[1][0]], axis=1)
        place, facing = self._off(uid, rails, rails.places(there), aside, times)
        return [*place.T, *facing.T, *there.T, ends[0][1] | ends[1][1]]

    def _off(
        self, uid: str, rails: SurfaceRails, places: Places, aside: np.ndarray, times: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray]:
        """Return world positions offset from a mesh's surface, and unit normals, (n, 3) each."""
        n, matrices = len(places), self.matrices(uid, times)
        place, facing = np.empty((n, 3)), np.empty((n, 3))
        clocks = self.clocks(uid, times) if rails.mesh.moves else np.zeros(1)
        if len(clocks) > 1:  # those who are born at moments of their own
            clocks = np.round(clocks / DEFORM_STEP) * DEFORM_STEP
        for clock in np.unique(clocks):
            here = slice(None) if len(clocks) == 1 else np.flatnonzero(clocks == clock)
            some = places if len(clocks) == 1 else Places(places.face[here], places.bary[here])
            stands = matrices if len(matrices) == 1 else matrices[here]
            place[here], facing[here] = rails.stand(some, aside[here], float(clock), stands)
        return place, facing

    def path_ride_places(
        self, query: PropQuery, share: np.ndarray, metres: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]:
        """Return for rides at a share of a path's length plus metres, (n,): point, tangent, normal, binormal (3 each),
        the share as ridden, and whether it is past an open end; (n,) each."""
        uid, n = query.prop, len(share)
        geometry, matrices = self.geometry(uid), self.matrices(uid, times)
        if not isinstance(geometry, Path):
            frame = np.broadcast_to(
                np.concatenate([matrices[:, :3, 3], np.tile(np.eye(3).ravel(), (len(matrices), 1))], axis=1), (n, 12)
            )
            return [*frame.T, np.zeros(n), np.zeros(n)]
        scale = np.cbrt(np.abs(np.linalg.det(matrices[:, :3, :3])))
        there, beyond = at_edge(
            share + metres / np.maximum(geometry.length * scale, 1e-12), geometry.closed, query.detail.edge
        )
        return [*geometry.standing(there, matrices), there, beyond]

    def carried_by_prop(
        self, uid: str, points: np.ndarray, vectors: np.ndarray, dt: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]:
        """Return points at rest in a prop's space after dt seconds that end at clip times, and vectors rotated with it:
        six arrays of (n,)."""
        n = len(points)
        before = times - dt if len(times) == n or np.ptp(dt) > 0 else times - dt[:1]
        step = self.matrices(uid, times) @ inverse(self.matrices(uid, before))
        return [
            *transform_points(step, points).T,
            *np.einsum("nij,nj->ni", np.broadcast_to(step[:, :3, :3], (n, 3, 3)), vectors).T,
        ]

    def _rails(self, uid: str, mesh: Mesh) -> SurfaceRails:
        return _rails_kept(("rails", self.key(uid)), lambda: SurfaceRails(mesh))

    # crawling -------------------------------------------------------------------------------------------------------
    def places_of_footing(self, uid: str, foot: np.ndarray, out: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return position, normal (3 each), u, v at places of a mesh, (n, 3) as `nearest_footing` gives them, `out`
        metres off the surface; (n,) each."""
        geometry, n = self.geometry(uid), len(foot)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            stands = np.broadcast_to(self.matrices(uid, times)[:, :3, 3], (n, 3))
            return [*stands.T, np.zeros(n), np.ones(n), np.zeros(n), np.zeros(n), np.zeros(n)]
        places = _places_from_columns(geometry, foot)
        place, facing = self._off(
            uid, self._rails(uid, geometry), places, np.column_stack([out, np.zeros((n, 2))]), times
        )
        return [*place.T, *facing.T, *geometry.uv_at(places).T]

    def walk(
        self,
        query: PropQuery,
        foot: np.ndarray,
        out: np.ndarray,
        direction: np.ndarray,
        velocity: np.ndarray,
        dt: np.ndarray,
        times: np.ndarray,
    ) -> list[np.ndarray]:
        """Return the results of walking on a mesh along vectors (n, 3), metres, in dt seconds (n,) that end at clip
        times.

        The surface moves and bends meanwhile; walkers move along it by the rest of the vector. Returned, (n,) each:
        position and velocity (3 each; velocity is also given), triangle and corner shares, and whether the walker was
        released at an open edge. query.detail: the ride, whose `edge` says what happens there.
        """
        uid, n = query.prop, len(foot)
        geometry = self.geometry(uid)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            stands = np.broadcast_to(self.matrices(uid, times)[:, :3, 3], (n, 3))
            return [*stands.T, *velocity.T, *foot.T, np.zeros(n)]
        rails, walk = self._rails(uid, geometry), _rails_kept(("walk", self.key(uid)), lambda: WalkableMesh(geometry))
        places, aside = _places_from_columns(geometry, foot), np.column_stack([out, np.zeros((n, 2))])
        if self.still(uid) and not geometry.moves:
            drift = np.zeros((n, 3))
        else:
            before = times - dt if len(times) == n or np.ptp(dt) > 0 else times - dt[:1]
            drift = self._off(uid, rails, places, aside, times)[0] - self._off(uid, rails, places, aside, before)[0]
        goes = drift / np.maximum(dt, 1e-9)[:, None]
        face, bary, carried, gone = np.empty(n, np.int64), np.empty((n, 3)), np.empty((n, 3)), np.empty(n)
        matrices, clocks = self.matrices(uid, times), self.clocks(uid, times) if geometry.moves else np.zeros(1)
        moments = (
            np.column_stack([np.broadcast_to(each, (n,)) for each in (times, clocks)])
            if len(matrices) > 1 or len(clocks) > 1
            else None
        )
        for moment in [None] if moments is None else np.unique(moments, axis=0):
            here = np.arange(n) if moments is None else np.flatnonzero((moments == moment).all(axis=1))
            matrix = matrices[0 if len(matrices) == 1 else here[0]]
            corners = transform_points(
                matrix[None], rails.corners(float(clocks[0 if len(clocks) == 1 else here[0]])).reshape(-1, 3)
            ).reshape(-1, 3, 3)
            some = Places(places.face[here], places.bary[here])
            there, carried[here], gone[here] = walk.go(
                some, (direction - drift)[here], (velocity - goes)[here], corners, query.detail.edge
            )
            face[here], bary[here] = there.face, there.bary
        place, _ = self._off(uid, rails, Places(face, bary), aside, times)
        return [*place.T, *(carried + goes).T, face, bary[:, 1], bary[:, 2], gone]


def _places_from_columns(mesh: Mesh, foot: np.ndarray) -> Places:
    """Return places from triangles and shares of the second and third corner, (n, 3)."""
    face = np.clip(np.nan_to_num(foot[:, 0]).astype(np.int64), 0, len(mesh.faces) - 1)
    b1 = np.clip(foot[:, 1], 0, 1)
    b2 = np.clip(foot[:, 2], 0, 1 - b1)
    return Places(face, np.column_stack([1 - b1 - b2, b1, b2]))
