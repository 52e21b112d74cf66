"""Triangle meshes, still or moving, and queries: uniform points, frames, nearest points, rays, inside tests."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..kernels import bvh
from .bending import Bending

F64 = np.float64


@dataclass(frozen=True)
class Places:
    """Places on a mesh: face (n,) int32, and barycentric coordinates there (n, 3) float64, which sum to 1."""

    face: np.ndarray
    bary: np.ndarray

    def __len__(self) -> int:
        return len(self.face)


@dataclass(frozen=True)
class Mesh:
    """Triangles with (u, v).

    points: (V, 3) float32, metres. faces: (F, 3) int32, counter-clockwise from outside. uv: (V, 2) float32. material:
    (F,) int16. colours: one linear-light colour a material, (M, 3) float32. pictures: the index of a material's
    picture,
    -1 without; textures: these pictures, (H, W, 4) in linear light. surfaces: how rough each material is, how much
      metal, and the light it gives
    by itself, linear, (M, 5) float32, none: all matte; surface_pictures: the textures that its roughness (in green) and
    its light are times, (M, 2).
    frames: (T, V, 3) float32 and times: (T,) ascending seconds, of a mesh that moves; its first frame is `points`.
    Points that lie together at a seam are points of their own.
    """

    points: np.ndarray
    faces: np.ndarray
    uv: np.ndarray
    material: np.ndarray
    colours: np.ndarray
    pictures: tuple[int, ...] = ()
    frames: np.ndarray | None = None
    times: np.ndarray | None = None
    given_normals: np.ndarray | None = field(default=None, repr=False)
    textures: tuple[np.ndarray, ...] = field(default=(), repr=False)
    surfaces: np.ndarray | None = field(default=None, repr=False)
    surface_pictures: np.ndarray | None = field(default=None, repr=False)

    @staticmethod
    def of(
        points: np.ndarray, faces: np.ndarray, uv: np.ndarray | None = None, normals: np.ndarray | None = None
    ) -> Mesh:
        """Return a mesh of one white material. Shapes as in the class; uv is nought where none is given."""
        points = np.ascontiguousarray(points, np.float32).reshape(-1, 3)
        faces = np.ascontiguousarray(faces, np.int32).reshape(-1, 3)
        uv = np.zeros((len(points), 2), np.float32) if uv is None else np.ascontiguousarray(uv, np.float32)
        return Mesh(
            points, faces, uv, np.zeros(len(faces), np.int16), np.ones((1, 3), np.float32), (-1,), given_normals=normals
        )

    # at a time ------------------------------------------------------------------------------------------------------
    @property
    def moves(self) -> bool:
        return self.frames is not None and len(self.frames) > 1

    def points_at(self, seconds: float) -> np.ndarray:
        """Return the points at a time, (V, 3) float64: linear between frames, held before the first and after the
        last."""
        if not self.moves:
            return self.points.astype(F64)
        i, share = self._between(seconds)
        return self.frames[i] * (1 - share) + self.frames[i + 1].astype(F64) * share  # type: ignore[index]

    def velocities_at(self, seconds: float) -> np.ndarray:
        """Return how fast the points move, (V, 3) metres a second, by the frames about this time; nought where the mesh
        is held."""
        if not self.moves:
            return np.zeros((len(self.points), 3))
        times = self.times
        assert times is not None and self.frames is not None
        if not times[0] <= seconds <= times[-1]:
            return np.zeros((len(self.points), 3))
        i, share = self._between(seconds)
        here = (self.frames[i + 1].astype(F64) - self.frames[i]) / (times[i + 1] - times[i])
        if share > 1e-9 or i == 0:
            return here
        before = (self.frames[i].astype(F64) - self.frames[i - 1]) / (times[i] - times[i - 1])
        return (here + before) / 2

    def _between(self, seconds: float) -> tuple[int, float]:
        assert self.times is not None
        i, share = keyframe_at(self.times, np.full(1, seconds))
        return int(i[0]), float(share[0])

    def at(self, seconds: float) -> Mesh:
        """Return the mesh as it stands at a time."""
        if not self.moves:
            return self
        return replace(
            self, points=self.points_at(seconds).astype(np.float32), frames=None, times=None, given_normals=None
        )

    # what follows from the points -----------------------------------------------------------------------------------
    @cached_property
    def corners(self) -> np.ndarray:
        """The triangles' corners, (F, 3, 3) float64."""
        return np.ascontiguousarray(self.points.astype(F64)[self.faces])

    @cached_property
    def _cross(self) -> np.ndarray:
        c = self.corners
        return np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])

    @cached_property
    def areas(self) -> np.ndarray:
        """The triangles' areas, (F,), square metres."""
        return np.linalg.norm(self._cross, axis=1) / 2

    @cached_property
    def face_normals(self) -> np.ndarray:
        """Unit normals, (F, 3); straight up where a triangle has no area."""
        return _unit(self._cross, (0.0, 1.0, 0.0))

    @cached_property
    def normals(self) -> np.ndarray:
        """Unit normals at the points, (V, 3): those given, else of the triangles about, by their angle (Thuermer and
        Wuethrich 1998)."""
        if self.given_normals is not None:
            return _unit(self.given_normals.astype(F64), (0.0, 1.0, 0.0))
        total = np.zeros((len(self.points), 3))
        c = self.corners
        for k in range(3):
            one, other = _unit(c[:, (k + 1) % 3] - c[:, k], (0, 0, 0)), _unit(c[:, (k + 2) % 3] - c[:, k], (0, 0, 0))
            angle = np.arccos(np.clip(np.einsum("ij,ij->i", one, other), -1, 1))
            np.add.at(total, self.faces[:, k], self.face_normals * angle[:, None])
        return _unit(total, (0.0, 1.0, 0.0))

    @cached_property
    def _bending(self) -> Bending:
        return Bending(self.corners, self.points, self.normals, self.faces)

    def corners_at(self, clock: float) -> np.ndarray:
        """Return the triangles' corners at a time of the mesh's animation, (F, 3, 3) float64."""
        return self.points_at(clock).astype(F64)[self.faces] if self.moves else self.corners

    def normals_at(self, clock: float) -> np.ndarray:
        """Return the points' unit normals at a time of the mesh's animation, (V, 3): those at rest, rotated with their
        triangles."""
        return self._bending.normals(self._bending.turnings(clock, self.corners_at)) if self.moves else self.normals

    def turned(self, face: np.ndarray, bary: np.ndarray, clock: float) -> np.ndarray:
        """Return the surface's rotation since rest at places of triangles, (n, 3, 3), smooth from one to the next."""
        return self._bending.turned(self._bending.turnings(clock, self.corners_at), face, bary)

    @cached_property
    def edges(self) -> np.ndarray:
        """Each edge once, (E, 2) int32, by its points' numbers."""
        pairs = np.sort(np.concatenate([self.faces[:, [0, 1]], self.faces[:, [1, 2]], self.faces[:, [2, 0]]]), axis=1)
        return np.unique(pairs, axis=0).astype(np.int32)

    @cached_property
    def bounds(self) -> np.ndarray:
        """Lowest and highest corner, (2, 3)."""
        return (
            np.stack([self.points.min(axis=0), self.points.max(axis=0)]).astype(F64)
            if len(self.points)
            else np.zeros((2, 3))
        )

    @cached_property
    def is_closed(self) -> bool:
        """Whether every edge lies between two triangles, coincident points taken as one."""
        _, same = np.unique(self.points.round(6), axis=0, return_inverse=True)
        faces = same.reshape(-1)[self.faces]
        pairs = np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
        return len(pairs) > 0 and bool((np.unique(pairs, axis=0, return_counts=True)[1] == 2).all())

    @cached_property
    def turned_out(self) -> int:
        """1 where all triangles of a closed mesh face outward, -1 inward, 0 where it is not closed or they disagree."""
        if not self.is_closed:
            return 0
        _, same = np.unique(self.points.round(6), axis=0, return_inverse=True)
        faces = same.reshape(-1)[self.faces]
        sides = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
        if len(np.unique(sides, axis=0)) < len(sides):
            return 0
        c = self.corners
        return int(np.sign(np.einsum("ij,ij->i", c[:, 0], np.cross(c[:, 1], c[:, 2])).sum()))

    @cached_property
    def _tree(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        return bvh.build(self.corners)

    @cached_property
    def _far(self) -> np.ndarray:
        return bvh.dipoles(*self._tree, self.corners)

    # places ---------------------------------------------------------------------------------------------------------
    @cached_property
    def _by_area(self) -> np.ndarray:
        total = np.cumsum(self.areas)
        return total / total[-1] if len(total) and total[-1] > 0 else np.linspace(0, 1, len(total) + 1)[1:]

    def on_surface(self, pick: np.ndarray, u: np.ndarray, v: np.ndarray) -> Places:
        """Return places spread evenly by area for uniform numbers in [0, 1), (n,) each: triangle by its area, then the
        square root map (Turk, "Generating random points in triangles", Graphics Gems, 1990)."""
        face = np.minimum(np.searchsorted(self._by_area, pick, side="right"), len(self.faces) - 1).astype(np.int32)
        root = np.sqrt(u.astype(F64))
        bary = np.stack([1 - root, root * (1 - v), root * v], axis=1)
        return Places(face, bary)

    def at_points(self, index: np.ndarray) -> Places:
        """Return the places of points by their numbers (n,): on the first triangle of each; a point of no triangle
        counts as the first."""
        face, corner = self._of_point
        index = index.astype(np.int64) % max(1, len(self.points))
        bary = np.zeros((len(index), 3))
        bary[np.arange(len(index)), corner[index]] = 1
        return Places(face[index], bary)

    @cached_property
    def _of_point(self) -> tuple[np.ndarray, np.ndarray]:
        face, corner = np.zeros(len(self.points), np.int32), np.zeros(len(self.points), np.int64)
        for k in (2, 1, 0):
            face[self.faces[::-1, k]] = np.arange(len(self.faces), dtype=np.int32)[::-1]
            corner[self.faces[::-1, k]] = k
        return face, corner

    def on_edges(self, pick: np.ndarray, along: np.ndarray) -> np.ndarray:
        """Return points (n, 3) spread evenly along all edges by their length, for uniform numbers in [0, 1)."""
        ends = self.points.astype(F64)[self.edges]
        lengths = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
        total = np.cumsum(lengths)
        edge = np.minimum(np.searchsorted(total / total[-1], pick, side="right"), len(lengths) - 1)
        return ends[edge, 0] * (1 - along[:, None]) + ends[edge, 1] * along[:, None]

    def in_volume(self, uniform: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return points inside, (n, 3), and whether each was found, for uniform numbers (n, tries, 3): the first try
        that lies inside."""
        low, high = self.bounds
        found = np.zeros(len(uniform), bool)
        points = np.broadcast_to((low + high) / 2, (len(uniform), 3)).copy()
        for attempt in range(uniform.shape[1]):
            open_ones = np.flatnonzero(~found)
            if not len(open_ones):
                break
            tried = low + uniform[open_ones, attempt] * (high - low)
            inside = self.inside(tried)
            points[open_ones[inside]] = tried[inside]
            found[open_ones[inside]] = True
        return points, found

    # what a place has -----------------------------------------------------------------------------------------------
    def point(self, places: Places) -> np.ndarray:
        """Return where places are, (n, 3) metres."""
        return np.einsum("ni,nij->nj", places.bary, self.corners[places.face])

    def moved_point(self, places: Places, seconds: float) -> np.ndarray:
        """Return where places are at a time on a mesh that moves, (n, 3)."""
        return np.einsum("ni,nij->nj", places.bary, self.points_at(seconds)[self.faces[places.face]])

    def velocity(self, places: Places, seconds: float) -> np.ndarray:
        """Return how fast places move at a time, (n, 3) metres a second."""
        return np.einsum("ni,nij->nj", places.bary, self.velocities_at(seconds)[self.faces[places.face]])

    def normal(self, places: Places) -> np.ndarray:
        """Return smooth unit normals at places, (n, 3)."""
        return _unit(np.einsum("ni,nij->nj", places.bary, self.normals[self.faces[places.face]]), (0.0, 1.0, 0.0))

    def uv_at(self, places: Places) -> np.ndarray:
        """Return (u, v) at places, (n, 2)."""
        return np.einsum("ni,nij->nj", places.bary, self.uv.astype(F64)[self.faces[places.face]])

    def frame(self, places: Places) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return tangent (along growing u), bitangent and normal at places, (n, 3) each: orthonormal and right-handed.

        Where (u, v) does not vary, the tangent lies across the axis that the normal is furthest from.
        """
        normal = self.normal(places)
        faces = places.face
        c, uv = self.corners[faces], self.uv.astype(F64)[self.faces[faces]]
        du, dv = uv[:, 1:, 0] - uv[:, :1, 0], uv[:, 1:, 1] - uv[:, :1, 1]
        along = (c[:, 1] - c[:, 0]) * dv[:, 1:2] - (c[:, 2] - c[:, 0]) * dv[:, :1]
        turned = du[:, 0] * dv[:, 1] - du[:, 1] * dv[:, 0] < 0
        along = np.where(turned[:, None], -along, along)
        along = along - normal * np.einsum("ij,ij->i", along, normal)[:, None]
        lost = np.linalg.norm(along, axis=1) < 1e-12 * np.maximum(np.linalg.norm(c[:, 1] - c[:, 0], axis=1), 1e-30)
        if lost.any():
            axis = np.zeros((int(lost.sum()), 3))
            axis[np.arange(len(axis)), np.argmin(np.abs(normal[lost]), axis=1)] = 1
            along[lost] = axis - normal[lost] * np.einsum("ij,ij->i", axis, normal[lost])[:, None]
        tangent = _unit(along, (1.0, 0.0, 0.0))
        return tangent, np.cross(normal, tangent), normal

    def at_uv(self, uv: np.ndarray) -> tuple[Places, np.ndarray]:
        """Return the places of (u, v), (n, 2), and whether the mesh has such a place; where several do, the first
        triangle."""
        flat = np.zeros((len(self.faces), 3, 3))
        flat[:, :, :2] = self.uv.astype(F64)[self.faces]
        mesh_uv = self._uv_mesh
        origins = np.column_stack([uv.astype(F64), np.full(len(uv), -1.0)])
        directions = np.broadcast_to([0.0, 0.0, 1.0], (len(uv), 3)).copy()
        places, reach = mesh_uv.hits(origins, directions)
        found = np.isfinite(reach)
        if not found.all():
            near, away = mesh_uv.nearest(np.column_stack([uv.astype(F64), np.zeros(len(uv))])[~found])
            places.face[~found], places.bary[~found] = near.face, near.bary
            found[~found] = away < 1e-5
        return places, found

    @cached_property
    def _uv_mesh(self) -> Mesh:
        flat = np.column_stack([self.uv, np.zeros(len(self.uv), np.float32)])
        return Mesh.of(flat, self.faces)

    # near, hit, inside ----------------------------------------------------------------------------------------------
    def nearest(self, points: np.ndarray) -> tuple[Places, np.ndarray]:
        """Return the nearest places to points (n, 3), and how far each is, metres."""
        points = np.ascontiguousarray(points, F64)
        face, bary, away = np.full(len(points), -1, np.int32), np.zeros((len(points), 3)), np.full(len(points), np.inf)
        if len(self.faces):
            bvh.closest(*self._tree, self.corners, points, face, bary, away)
        return Places(face, bary), away

    def hits(self, origins: np.ndarray, directions: np.ndarray) -> tuple[Places, np.ndarray]:
        """Return the first places that rays hit from either side (face -1: none), and the reach in lengths of the
        direction (inf: none)."""
        origins, directions = np.ascontiguousarray(origins, F64), np.ascontiguousarray(directions, F64)
        face = np.full(len(origins), -1, np.int32)
        bary = np.zeros((len(origins), 3))
        reach = np.full(len(origins), np.inf)
        if len(self.faces):
            bvh.cast(*self._tree, self.corners, origins, directions, face, bary, reach)
        return Places(face, bary), reach

    def winding(self, points: np.ndarray) -> np.ndarray:
        """Return the winding number of points (n, 3): 1 inside a closed mesh, 0 outside."""
        out = np.zeros(len(points))
        if len(self.faces):
            bvh.winding(self._tree[1], self._tree[2], self.corners, self._far, np.ascontiguousarray(points, F64), out)
        return out

    def inside(self, points: np.ndarray) -> np.ndarray:
        """Return whether points (n, 3) lie inside, also of meshes with holes or turned inside out, (n,) bool."""
        return np.abs(self.winding(points)) > 0.5


def keyframe_at(times: np.ndarray, clock: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the frame before each time (n,) and the share of the way to the next; clamped before the first and after
    the last."""
    i = np.clip(np.searchsorted(times, clock, side="right") - 1, 0, len(times) - 2)
    return i, np.clip((clock - times[i]) / (times[i + 1] - times[i]), 0, 1)


def _unit(vectors: np.ndarray, instead: tuple[float, float, float]) -> np.ndarray:
    length = np.linalg.norm(vectors, axis=-1, keepdims=True)
    return np.where(length > 1e-300, vectors / np.where(length > 1e-300, length, 1), np.asarray(instead, F64))


def to_metres(mesh: Mesh, unit: float, up: str) -> Mesh:
    """Return a mesh from a file's unit and up axis in metres with y up."""
    if unit == 1 and up == "y":
        return mesh

    def turned(points: np.ndarray, scale: float) -> np.ndarray:
        points = points * np.float32(scale)
        return np.ascontiguousarray(
            np.stack([points[..., 0], points[..., 2], -points[..., 1]], axis=-1) if up == "z" else points, np.float32
        )

    return Mesh(
        turned(mesh.points, unit),
        mesh.faces,
        mesh.uv,
        mesh.material,
        mesh.colours,
        mesh.pictures,
        None if mesh.frames is None else turned(mesh.frames, unit),
        mesh.times,
        None if mesh.given_normals is None else turned(mesh.given_normals, 1.0),
        mesh.textures,
    )
