"""Nearest points on props: distances, surface positions, colours, painted shares."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import scipy

from ..geometry import Mesh, Path, Places
from ..geometry.brush import painted_share
from ..geometry.subdivision import subdivide
from ..kernels import bvh
from ..memory import PROCESS
from ..work_limits import spend
from .contacts import ContactQueries
from .prop_places import DEFORM_STEP, inverse, transform_points

F64 = np.float64
Near = Callable[[Any, Any, np.ndarray, np.ndarray], list[np.ndarray]]
_per_prop, _per_time = PROCESS.region("stage", 1.0), PROCESS.region("moments", 0.5)


class NearestQueries(ContactQueries):
    """Queries that sources, masks and pushes make about the nearest points of props. Arrays in and out are float64."""

    def sample(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return distance, u, v, red, green, blue, alpha at a prop's nearest points, (n,) each.

        Distance: metres, negative inside a closed mesh. A picture is seen along its own axis; beside it there is
        nothing.
        """
        geometry, n = self.geometry(uid), len(points)
        if geometry is None or (isinstance(geometry, Mesh) and not len(geometry.points)):
            away = np.linalg.norm(points - self.matrices(uid, times)[:, :3, 3], axis=1)
            return [away, *(np.zeros(n) for _ in range(6))]
        found, own = self._ask_near(uid, geometry, points, times, self._near, 7)
        if own is not None:
            found[0] = found[0] * np.linalg.norm(own[:, :3, 0], axis=1)
        return found

    def nearest(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return a prop's nearest points: x, y, z, direction it faces there (of a path, its tangent), distance (0 or
        more), u and v; (n,) each. For a prop without geometry, its origin."""
        geometry, n = self.geometry(uid), len(points)
        if geometry is None or (isinstance(geometry, Mesh) and not len(geometry.points)):
            matrices = self.matrices(uid, times)
            there = np.broadcast_to(matrices[:, :3, 3], (n, 3))
            up = np.broadcast_to(
                matrices[:, :3, 1] / np.maximum(np.linalg.norm(matrices[:, :3, 1], axis=1, keepdims=True), 1e-300),
                (n, 3),
            )
            return [*there.T, *up.T, np.linalg.norm(points - there, axis=1), np.zeros(n), np.zeros(n)]
        found, own = self._ask_near(uid, geometry, points, times, _nearest_place, 8)
        place, facing = np.stack(found[:3], axis=1), np.stack(found[3:6], axis=1)
        if own is not None:
            place = transform_points(own, place)
            facing = np.einsum("nij,nj->ni", np.broadcast_to(own[:, :3, :3], (n, 3, 3)), facing)
            facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
        return [*place.T, *facing.T, np.linalg.norm(points - place, axis=1), *found[6:]]

    def nearest_footing(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return a mesh's nearest points as triangle and shares of its second and third corner, (n,) each; zeros where
        there is none."""
        geometry = self.geometry(uid)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            return [np.zeros(len(points))] * 3

        def near(prop: Any, standing: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
            assert isinstance(standing, Mesh)
            places, _ = standing.nearest(points)
            return [places.face.astype(F64), places.bary[:, 1], places.bary[:, 2]]

        return self._ask_near(uid, geometry, points, times, near, 3)[0]

    def bounds_middle(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return the centre of a prop's bounds at clip times, (n, 3); its origin where it has no geometry."""
        geometry, matrices = self.geometry(uid), self.matrices(uid, times)
        if geometry is None or not len(geometry.points):
            return matrices[:, :3, 3]
        return (matrices @ self._bounds(uid, geometry, times))[:, :3, 3]

    def painted_share(self, uid: str, points: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return the painted share at a prop's nearest points, (n,), interpolated between the points of its fine mesh
        at rest."""
        geometry, prop = self.geometry(uid), self.prop(uid)
        strokes = [(s.kind, s.radius, s.strength, np.asarray(s.points)) for s in prop.paint if s.on]
        if not isinstance(geometry, Mesh) or not len(geometry.faces) or not strokes:
            return np.zeros(len(points))
        rest = geometry

        def know() -> tuple[scipy.spatial.cKDTree, np.ndarray]:
            spots = subdivide(rest).points.astype(F64)
            return scipy.spatial.cKDTree(spots), painted_share(spots, strokes)

        tree, shares = _per_prop(("painted", self.key(uid), repr(prop.paint)), know)

        def near(prop: Any, standing: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
            assert isinstance(standing, Mesh)
            places, _ = standing.nearest(points)
            away, index = tree.query(rest.point(places), k=min(3, tree.n))
            weight = 1 / np.maximum(away.reshape(len(points), -1), 1e-9)
            return [(shares[index].reshape(len(points), -1) * weight).sum(axis=1) / weight.sum(axis=1)]

        return self._ask_near(uid, geometry, points, times, near, 1)[0][0]

    def _ask_near(
        self, uid: str, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray, near: Near, count: int
    ) -> tuple[list[np.ndarray], np.ndarray | None]:
        """Return `count` arrays (n,) of `near` for a prop at points and times; and its transform, (n or 1, 4, 4), where
        it was asked in its own space (None: in world space)."""
        prop, n = self.prop(uid), len(points)
        if isinstance(geometry, Mesh) and not geometry.moves and self._rigid(uid, times):
            matrices = self.matrices(uid, times)
            return near(
                prop, geometry, transform_points(inverse(matrices), points), np.broadcast_to(times, (n,))
            ), matrices
        moments = (
            np.broadcast_to(times, (n,))
            if len(times) == 1
            else np.round(np.broadcast_to(times, (n,)) / DEFORM_STEP) * DEFORM_STEP
        )
        out = np.empty((count, n))
        for moment in np.unique(moments):
            here = moments == moment
            spend(int(here.sum()) * 100)
            now = np.full(1, moment)
            matrix, clock = self.matrices(uid, now), self.clocks(uid, now)
            if isinstance(geometry, Path):
                standing: Mesh | Path = Path(transform_points(matrix, geometry.points), geometry.closed)
            else:
                standing = _per_time(
                    ("stands", self.key(prop.uid), matrix.tobytes(), clock.tobytes() if geometry.moves else b""),
                    lambda: self._world(geometry, matrix, float(clock[0])),  # noqa: B023
                )
            out[:, here] = near(prop, standing, points[here], moments[here])
        return list(out), None

    def _rigid(self, uid: str, times: np.ndarray) -> bool:
        """Return whether a prop's scale is uniform at these times, so that it can be asked in its own space."""
        axes = np.linalg.norm(self.matrices(uid, times)[:, :3, :3], axis=1)
        return bool((np.ptp(axes, axis=1) <= 1e-6 * axes.max(axis=1)).all() and axes.min() > 1e-9)

    @staticmethod
    def _world(mesh: Mesh, matrix: np.ndarray, clock: float) -> Mesh:
        """Return a mesh in world space, with the tree of the mesh at rest refitted."""
        points = transform_points(matrix, mesh.points_at(clock))
        placed = replace(mesh, points=points.astype(np.float32), frames=None, times=None, given_normals=None)
        boxes, links, order = mesh._tree
        boxes = boxes.copy()
        bvh.refit(boxes, links, order, placed.corners)
        turned = mesh.turned_out * (-1 if np.linalg.det(matrix[0, :3, :3]) < 0 else 1)
        placed.__dict__.update(
            _tree=(boxes, links, order), is_closed=mesh.is_closed, turned_out=turned
        )  # as long as nothing else is known of it
        return placed

    def _near(self, prop: Any, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        n = len(points)
        tint = [np.full(n, float(c)) for c in prop.tint] + [np.ones(n)]
        if isinstance(geometry, Path):
            share, away = geometry.nearest(points)
            return [away, share, np.zeros(n), *tint]
        if not len(geometry.faces):
            tree = _per_prop(("tree", id(geometry)), lambda: (scipy.spatial.cKDTree(geometry.points), geometry))[0]
            away, index = tree.query(points)
            return [away, *geometry.uv[index].T.astype(F64), *tint]
        if prop.film:
            return self._before_picture(prop, geometry, points, times)
        places, away = geometry.nearest(points)
        signed = away * np.where(_within(geometry, places, points), -1.0, 1.0) if geometry.is_closed else away
        uv = geometry.uv_at(places)
        return [signed, *uv.T, *self._colours(prop, geometry, places.face, uv).T]

    def _before_picture(self, prop: Any, geometry: Mesh, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return the points of a picture that lie in front of or behind points."""
        c = geometry.points.astype(F64)
        corner, right, up = (
            c[np.argmin(np.abs(geometry.uv - np.asarray(uv, np.float32)).sum(axis=1))]
            for uv in ((0, 0), (1, 0), (0, 1))
        )
        gap = points - corner
        uv = np.stack([gap @ side / max(side @ side, 1e-300) for side in (right - corner, up - corner)], axis=1)
        _, away = geometry.nearest(points)
        colour = np.zeros((len(points), 4))
        inside = ((uv >= 0) & (uv <= 1)).all(axis=1)
        colour[inside] = self.picture(prop.uid, uv[inside], times[inside])
        return [away, *np.clip(uv, 0, 1).T, *colour.T]

    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a prop's picture at (u, v), (n, 4). Implemented by `Stage`."""
        raise NotImplementedError


def _nearest_place(prop: Any, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
    """Return position, facing, u and v nearest to points, in the geometry's space."""
    if isinstance(geometry, Path):
        share, _ = geometry.nearest(points)
        return [*geometry.point(share).T, *geometry.frame(share)[0].T, share, np.zeros(len(points))]
    if not len(geometry.faces):
        tree = _per_prop(("tree", id(geometry)), lambda: (scipy.spatial.cKDTree(geometry.points), geometry))[0]
        _, index = tree.query(points)
        return [
            *geometry.points[index].T.astype(F64),
            *geometry.normals[index].T.astype(F64),
            *geometry.uv[index].T.astype(F64),
        ]
    places, _ = geometry.nearest(points)
    return [*geometry.point(places).T, *geometry.normal(places).T, *geometry.uv_at(places).T]


def _within(mesh: Mesh, places: Places, points: np.ndarray) -> np.ndarray:
    """Return whether points lie inside a closed mesh: by the normal where the nearest point is within a triangle
    (Baerentzen and Aanaes, "Signed distance computation using the angle weighted pseudonormal", 2005), otherwise by the
    winding number."""
    clear = (places.bary > 1e-6).all(axis=1) if mesh.turned_out != 0 else np.zeros(len(points), bool)
    inside = np.zeros(len(points), bool)
    if clear.any():
        gap = points[clear] - mesh.point(Places(places.face[clear], places.bary[clear]))
        inside[clear] = np.einsum("ij,ij->i", gap, mesh.face_normals[places.face[clear]]) * mesh.turned_out < 0
    if not clear.all():
        inside[~clear] = mesh.inside(points[~clear])
    return inside
