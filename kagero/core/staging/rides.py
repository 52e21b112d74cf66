"""What rides ask of the stage: places on surfaces and paths, and ways along them."""

from __future__ import annotations

import numpy as np

from ..geometry import Mesh, Path, Places
from ..geometry.ride_rails import SurfaceRails, at_edge
from ..geometry.surface_walk import Walk
from ..memory import PROCESS
from ..program import PropQuery
from .prop_places import APART, PropPlaces, inverse, moved

F64 = np.float64
_once = PROCESS.region("rides", 1.0)


class Riding(PropPlaces):
    """Props, as rides ask for them. Arrays in and out are float64."""

    # rides ----------------------------------------------------------------------------------------------------------
    def ridden(self, query: PropQuery, uv: np.ndarray, aside: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return what rides at (u, v), (n, 2), find on a prop: place, normal (3 each), u, v as they are ridden, and whether it lies beyond an
        open end; (n,) each. aside: metres out, along u, along v, (n, 3). query.detail: the ride, whose `edge` says what is at an end."""
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
        """Return where places of a mesh are in the world with what they stand off, and unit normals there, (n, 3) each."""
        n, matrices = len(places), self.matrices(uid, times)
        place, facing = np.empty((n, 3)), np.empty((n, 3))
        clocks = self.clocks(uid, times) if rails.mesh.moves else np.zeros(1)
        if len(clocks) > 1:  # those who are born at moments of their own
            clocks = np.round(clocks / APART) * APART
        for clock in np.unique(clocks):
            here = slice(None) if len(clocks) == 1 else np.flatnonzero(clocks == clock)
            some = places if len(clocks) == 1 else Places(places.face[here], places.bary[here])
            stands = matrices if len(matrices) == 1 else matrices[here]
            place[here], facing[here] = rails.stand(some, aside[here], float(clock), stands)
        return place, facing

    def along(self, query: PropQuery, share: np.ndarray, metres: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return what rides along a path find at a share of its length and so many metres further, (n,): point, tangent, normal, binormal
        (3 each), the share as it is ridden, and whether it lies beyond an open end; (n,) each."""
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

    def carried(
        self, uid: str, points: np.ndarray, vectors: np.ndarray, dt: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]:
        """Return where points go that stand still in a prop's space for dt seconds up to clip times, and how vectors turn with it: six of (n,)."""
        n = len(points)
        before = times - dt if len(times) == n or np.ptp(dt) > 0 else times - dt[:1]
        step = self.matrices(uid, times) @ inverse(self.matrices(uid, before))
        return [
            *moved(step, points).T,
            *np.einsum("nij,nj->ni", np.broadcast_to(step[:, :3, :3], (n, 3, 3)), vectors).T,
        ]

    def _rails(self, uid: str, mesh: Mesh) -> SurfaceRails:
        return _once(("rails", self.key(uid)), lambda: SurfaceRails(mesh))

    # crawling -------------------------------------------------------------------------------------------------------
    def footed(self, uid: str, foot: np.ndarray, out: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return what is at places of a mesh, (n, 3) as `footing` tells them: place `out` metres off (n,), normal (3 each), u, v; (n,) each."""
        geometry, n = self.geometry(uid), len(foot)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            stands = np.broadcast_to(self.matrices(uid, times)[:, :3, 3], (n, 3))
            return [*stands.T, np.zeros(n), np.ones(n), np.zeros(n), np.zeros(n), np.zeros(n)]
        places = _footed(geometry, foot)
        place, facing = self._off(
            uid, self._rails(uid, geometry), places, np.column_stack([out, np.zeros((n, 2))]), times
        )
        return [*place.T, *facing.T, *geometry.uv_at(places).T]

    def walked(
        self,
        query: PropQuery,
        foot: np.ndarray,
        out: np.ndarray,
        direction: np.ndarray,
        velocity: np.ndarray,
        dt: np.ndarray,
        times: np.ndarray,
    ) -> list[np.ndarray]:
        """Return where those come to who stand on a mesh and go along vectors (n, 3), metres, in dt seconds (n,) up to clip times.

        The surface moves and bends beneath them: they go along it by what is left of that. Place and velocity (3 each; velocity in), triangle
        and shares of its corners, and who came to an open edge that lets go; (n,) each. query.detail: the ride, whose `edge` says what is there.
        """
        uid, n = query.prop, len(foot)
        geometry = self.geometry(uid)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            stands = np.broadcast_to(self.matrices(uid, times)[:, :3, 3], (n, 3))
            return [*stands.T, *velocity.T, *foot.T, np.zeros(n)]
        rails, walk = self._rails(uid, geometry), _once(("walk", self.key(uid)), lambda: Walk(geometry))
        places, aside = _footed(geometry, foot), np.column_stack([out, np.zeros((n, 2))])
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
            corners = moved(
                matrix[None], rails.corners(float(clocks[0 if len(clocks) == 1 else here[0]])).reshape(-1, 3)
            ).reshape(-1, 3, 3)
            some = Places(places.face[here], places.bary[here])
            there, carried[here], gone[here] = walk.go(
                some, (direction - drift)[here], (velocity - goes)[here], corners, query.detail.edge
            )
            face[here], bary[here] = there.face, there.bary
        place, _ = self._off(uid, rails, Places(face, bary), aside, times)
        return [*place.T, *(carried + goes).T, face, bary[:, 1], bary[:, 2], gone]


def _footed(mesh: Mesh, foot: np.ndarray) -> Places:
    """Return places by triangle and shares of its second and third corner, (n, 3)."""
    face = np.clip(np.nan_to_num(foot[:, 0]).astype(np.int64), 0, len(mesh.faces) - 1)
    b1 = np.clip(foot[:, 1], 0, 1)
    b2 = np.clip(foot[:, 2], 0, 1 - b1)
    return Places(face, np.column_stack([1 - b1 - b2, b1, b2]))
