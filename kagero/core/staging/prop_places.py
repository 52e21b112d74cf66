"""Transforms of an effect's props at any time, with what they follow: the one definition shared by operations, births,
queries and pictures."""

from __future__ import annotations

import threading
from typing import Any

import numpy as np
from cachetools import LRUCache

from ..document import Effect, moment_times
from ..engine import prepare_reference
from ..errors import GeometryProblem
from ..geometry import Mesh, Path, Places
from ..geometry.mesh import keyframe_at
from ..plan import EffectView, Plan
from .building import Content, geometry, geometry_key, no_content

DERIVATIVE_STEP = 1 / 240  # seconds before and after, for velocities
TRAVEL_STEP = 1 / 480  # seconds between the moments at which a way is measured
DEFORM_STEP = (
    1 / 240
    # seconds: meshes that deform are asked for as they stand at whole multiples, where particles are born at moments of
    # their own
)
FEW, STOOD = 16, 192  # times that are kept at once; how often


class PropPlaces:
    """The props of a compiled effect. content: gives the contents of files by hash."""

    def __init__(self, effect: Effect, plan: Plan, content: Content = no_content):
        self.effect, self.plan, self.content = effect, plan, content
        self._view = EffectView(effect)
        self._by_clip = {each.uid: each for each in (*plan.props, *plan.picture)}
        self._programs = {uid: prepare_reference(each.place, np.float64) for uid, each in self._by_clip.items()}
        self._geometry: dict[str, Mesh | Path | None] = {}
        self._ways: dict[str, tuple[np.ndarray, np.ndarray]] = {}  # how far props have come at times
        self._keys: dict[str, str] = {}
        self._still: dict[str, bool] = {}
        self._own: dict[str, dict[str, float]] = {}  # of those whose rows are the same at any time
        self._standing: dict[str, np.ndarray] = {}  # where those are that never move
        self._stood: LRUCache[tuple[str, bytes], np.ndarray] = LRUCache(STOOD)
        self._lock = threading.RLock()  # a prop that stands by another asks for it while it is asked itself

    def key(self, uid: str) -> str:
        """Return the geometry key of a prop."""
        if uid not in self._keys:
            self._keys[uid] = geometry_key(self.prop(uid))
        return self._keys[uid]

    def seen(self, uid: str, seconds: float) -> bool:
        """Return whether a prop is visible at a clip time, by the moments it is seen from and until."""
        prop, moments = self.prop(uid), moment_times(self.effect)
        return not (
            seconds < moments.get(prop.seen_from or "", -np.inf) - 1e-9
            or seconds >= moments.get(prop.seen_until or "", np.inf) - 1e-9
        )

    def geometry(self, uid: str) -> Mesh | Path | None:
        """Return a prop's geometry; None also where its file is missing, so that the rest of the effect plays."""
        if uid not in self._geometry:
            try:
                self._geometry[uid] = geometry(self.prop(uid), self.content)
            except GeometryProblem:
                self._geometry[uid] = None
        return self._geometry[uid]

    def has_prop(self, uid: str) -> bool:
        """Return whether a prop with this uid exists."""
        return any(prop.uid == uid for prop in self.effect.props)

    def lacks(self, uid: str) -> bool:
        """Return whether a prop's geometry is missing, although it should have one."""
        return not (self.prop(uid).camera or self.prop(uid).mask) and self.geometry(uid) is None

    def own(self, uid: str, seconds: float) -> dict[str, float]:
        """Return a prop's own rows at a time: position.0 ... scale.2, and a camera's field_of_view.0."""
        own = self._own.get(uid)
        if own is None:
            own = {name: float(value[0]) for name, value in self.rows(uid, np.full(1, seconds)).items()}
            if "time" not in self._programs[uid].program.inputs:
                self._own[uid] = own
        return dict(own)

    def extent(self, mask: Any, seconds: float) -> dict[str, Any]:
        """Return a mask's radius, size and falloff at a time, metres before scaling; the falloff, and the part of it
        within the edge, are in world metres."""
        own = self.own(mask.uid, seconds)
        size = [own.get(f"size.{i}", 0.0) for i in range(3)]
        falloff = own.get("falloff.0", 0.0)
        return {
            "radius": own.get("radius.0", 0.0),
            "size": size,
            "falloff": falloff,
            "within": falloff / 2 if getattr(mask, "centred", False) else 0.0,
        }

    def rows(self, uid: str, seconds: np.ndarray) -> dict[str, np.ndarray]:
        """Return the rows of a prop, of an item of the finish or of the frame at times (n,), (n,) each."""
        return self._programs[uid].run(
            self._by_clip[uid].values, {"time": np.asarray(seconds, np.float64)}, len(seconds)
        )

    def digest(self, uid: str) -> str:
        """Return a text that is equal where a prop's geometry and motion are equal."""
        return self._view.digest(uid)

    def places(self, seconds: float) -> dict[str, np.ndarray]:
        """Return every prop's transform at a time: (4, 4) matrices from its own space to the world."""
        return {prop.uid: self.matrices(prop.uid, np.full(1, seconds))[0] for prop in self.effect.props}

    def matrices(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return a prop's transform at times (n,), seconds, with everything it follows: (n, 4, 4), or (1, 4, 4) where
        it stands still."""
        still = self.still(uid)
        if still:
            if (known := self._standing.get(uid)) is not None:
                return known
            times = times[:1]
        key = (uid, times.tobytes()) if len(times) <= FEW else None
        prop = self.prop(uid)
        with self._lock:
            if key is not None and (known := self._stood.get(key)) is not None:
                return known
            matrices = self._local(uid, times)
        if prop.follow is not None:
            matrices = self._followed(prop.follow, times) @ matrices
        if still and len(times):
            matrices.setflags(write=False)
            self._standing[uid] = matrices
        if key is not None and not still:
            with self._lock:
                self._stood[key] = matrices
        return matrices

    def travelled(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return the distance in metres that a prop has travelled since the clip's first frame or its run-up, at times
        (n,), seconds: (n,), or (1,) where it stands still. Sum of chords between times TRAVEL_STEP apart."""
        if self.still(uid):
            return np.zeros(1)
        if uid not in self._ways:
            begin = self.plan.seconds(self.plan.first_frame - self.plan.run_up)
            end = self.plan.seconds(self.plan.last_frame + 1)
            at = begin + np.arange(int(np.ceil((end - begin) / TRAVEL_STEP)) + 2) * TRAVEL_STEP
            distances = np.linalg.norm(np.diff(self.matrices(uid, at)[:, :3, 3], axis=0), axis=1)
            self._ways[uid] = (at, np.concatenate([[0.0], np.cumsum(distances)]))
        return np.interp(times, *self._ways[uid])

    def velocities(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return a prop's velocity at times (n,), seconds: (n, 3) m/s at its origin, or (1, 3) where it stands still.

        Central differences over DERIVATIVE_STEP: exact for positions that are quadratic in time.
        """
        if self.still(uid):
            return np.zeros((1, 3))
        return (self.matrices(uid, times + DERIVATIVE_STEP) - self.matrices(uid, times - DERIVATIVE_STEP))[:, :3, 3] / (
            2 * DERIVATIVE_STEP
        )

    def still(self, uid: str) -> bool:
        """Return whether a prop never moves as a whole."""
        if uid not in self._still:
            prop = self.prop(uid)
            follow, still = prop.follow, "time" not in self._programs[uid].program.inputs
            if still and follow is not None:
                mesh = self.geometry(follow.prop)
                still = self.still(follow.prop) and (
                    follow.at == "place" or not (isinstance(mesh, Mesh) and mesh.moves)
                )
            self._still[uid] = still
        return self._still[uid]

    def _local(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return a prop's own transforms, without what it follows: scale, roll about z, pitch about x, yaw about y,
        translation."""
        own, n = self.rows(uid, times), len(times)

        def three(name: str, instead: float) -> np.ndarray:
            return np.stack([own.get(f"{name}.{i}", np.full(n, instead)) for i in range(3)], axis=1).astype(np.float64)

        turn, scale = three("rotation", 0.0), three("scale", 1.0)
        matrices = np.zeros((n, 4, 4))
        matrices[:, :3, :3] = rotation_matrices(turn) * scale[:, None, :]
        matrices[:, :3, 3], matrices[:, 3, 3] = three("position", 0.0), 1
        return matrices

    def _followed(self, follow: Any, times: np.ndarray) -> np.ndarray:
        parent = np.broadcast_to(self.matrices(follow.prop, times), (len(times), 4, 4))
        followed = parent.copy() if follow.turns else np.broadcast_to(np.eye(4), parent.shape).copy()
        followed[:, :3, 3] = parent[:, :3, 3]
        mesh = self.geometry(follow.prop)
        if follow.at == "bounds":
            return followed if mesh is None else parent @ self._bounds(follow.prop, mesh, times)
        if follow.at == "place" or not isinstance(mesh, Mesh) or not len(mesh.faces):
            return followed
        point, along, up = self._rider(follow, mesh, self.clocks(follow.prop, times))
        followed[:, :3, 3] = np.einsum("nij,nj->ni", parent[:, :3, :3], point) + parent[:, :3, 3]
        if follow.at != "points" and follow.turns:
            along = np.einsum("nij,nj->ni", parent[:, :3, :3], along)
            up = np.einsum("nji,nj->ni", np.linalg.pinv(parent[:, :3, :3]), up)
            up /= np.maximum(np.linalg.norm(up, axis=1, keepdims=True), 1e-300)
            along = along - up * np.einsum("ij,ij->i", along, up)[:, None]
            along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
            followed[:, :3, :3] = np.stack([along, up, np.cross(along, up)], axis=2)
        return followed

    def _bounds(self, uid: str, geometry: Mesh | Path, times: np.ndarray) -> np.ndarray:
        """Return transforms at times (n,) from a unit cube about the origin to a prop's bounds in its own space, (n, 4,
        4)."""
        frames = geometry.frames if isinstance(geometry, Mesh) and geometry.moves else geometry.points[None]
        assert frames is not None
        ends = np.stack([frames.min(axis=1), frames.max(axis=1)], axis=1).astype(np.float64)  # (frames, 2, 3)
        if isinstance(geometry, Mesh) and geometry.moves:
            assert geometry.times is not None
            i, share = keyframe_at(geometry.times, self.clocks(uid, times))
            ends = ends[i] * (1 - share[:, None, None]) + ends[i + 1] * share[:, None, None]
        wide = ends[:, 1] - ends[:, 0]
        matrix = np.zeros((len(times), 4, 4))
        matrix[:, :3, :3] = (
            np.eye(3) * np.maximum(wide, max(1e-3 * wide.max(), 1e-6))[:, None, :]
        )  # what is flat has a little depth
        matrix[:, :3, 3], matrix[:, 3, 3] = ends.mean(axis=1), 1
        return matrix

    def _rider(self, follow: Any, mesh: Mesh, clocks: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the followed point with the tangent and normal there, (n, 3), at times of the mesh's own animation;
        interpolated between its frames."""
        frames = mesh.frames if mesh.moves else mesh.points[None]
        assert frames is not None
        if follow.at == "points":
            chosen = [i for i in follow.points if i < len(mesh.points)] or [0]
            stops = [frames[:, chosen].mean(axis=1, dtype=np.float64)] * 3
        else:
            face = min(follow.face, len(mesh.faces) - 1)
            about = np.flatnonzero(np.isin(mesh.faces, mesh.faces[face]).any(axis=1))
            places = Places(
                np.array([int(np.searchsorted(about, face))], np.int32), np.array([follow.bary], np.float64)
            )
            found = []
            for points in frames:
                still = Mesh.of(points, mesh.faces[about], mesh.uv, None if mesh.moves else mesh.given_normals)
                tangent, _, normal = still.frame(places)
                found.append((still.point(places)[0], tangent[0], normal[0]))
            stops = [np.array(column) for column in zip(*found, strict=True)]
        if not mesh.moves:
            return tuple(np.broadcast_to(stop[0], (len(clocks), 3)) for stop in stops)  # type: ignore[return-value]
        assert mesh.times is not None
        i, share = keyframe_at(mesh.times, clocks)
        return tuple(stop[i] * (1 - share[:, None]) + stop[i + 1] * share[:, None] for stop in stops)

    def clock(self, uid: str, seconds: float) -> float:
        """Return a prop's animation time at a clip time."""
        return float(self.clocks(uid, np.full(1, seconds))[0])

    def clocks(self, uid: str, times: np.ndarray, after: float = 0.0) -> np.ndarray:
        """Return a prop's animation times at clip times (n,); for a picture sequence, the numbers of pictures. after:
        seconds of the clip to continue without looping."""
        prop = self.prop(uid)
        if prop.film:
            return prop.pictured_at(times, float(self.plan.frame_rate), "time" in self._programs[uid].program.inputs)
        if not prop.animated:
            return times
        mesh = self.geometry(uid)
        at = (times - prop.start) * prop.speed
        length = float(mesh.times[-1]) if isinstance(mesh, Mesh) and mesh.times is not None else 0.0
        return (at % length if prop.loops and length > 0 else at) + after * prop.speed

    def prop(self, uid: str) -> Any:
        """Return a prop by its uid, which must exist."""
        return next(prop for prop in self.effect.props if prop.uid == uid)


def rotation_matrices(angles: np.ndarray) -> np.ndarray:
    """Return rotations (n, 3, 3) by angles (n, 3) about x, y and z, radians: roll about z, then pitch about x, then yaw
    about y."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(angles).T, np.sin(angles).T
    rotations = np.empty((len(angles), 3, 3))
    rotations[:, 0, 0], rotations[:, 0, 1], rotations[:, 0, 2] = cy * cz + sy * sx * sz, sy * sx * cz - cy * sz, sy * cx
    rotations[:, 1, 0], rotations[:, 1, 1], rotations[:, 1, 2] = cx * sz, cx * cz, -sx
    rotations[:, 2, 0], rotations[:, 2, 1], rotations[:, 2, 2] = cy * sx * sz - sy * cz, sy * sz + cy * sx * cz, cy * cx
    return rotations


def transform_points(matrices: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Return points (n, 3) transformed by matrices (n or 1, 4, 4)."""
    if len(matrices) == 1:
        return points @ matrices[0, :3, :3].T + matrices[0, :3, 3]
    return np.einsum("nij,nj->ni", matrices[:, :3, :3], points) + matrices[:, :3, 3]


def inverse(matrices: np.ndarray) -> np.ndarray:
    inverted = np.zeros_like(matrices)
    inverted[:, :3, :3] = np.linalg.pinv(matrices[:, :3, :3])
    inverted[:, :3, 3] = -np.einsum("nij,nj->ni", inverted[:, :3, :3], matrices[:, :3, 3])
    inverted[:, 3, 3] = 1
    return inverted
