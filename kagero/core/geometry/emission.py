"""Births on props: places chosen on the prop at rest, their bindings, and their positions when the prop has moved.

A binding is (slot, b1, b2), (n, 3) float64 exact in float32, with an offset (n, 3), metres. On triangles, slot is the
triangle, b1 and b2 the shares of its second and third corner, and the offset lies along its first side, across it, and
along its normal. At points, slot is the point, b1 = -1, and the offset lies along the prop's axes. On a path, slot is
the share of its length, b1 = -2, and the offset lies along tangent, normal and binormal.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kernels.random import rehash_uniform
from ..work_limits import spend
from .bending import axes
from .mesh import Mesh, Places, keyframe_at
from .path import Path

F64 = np.float64
AT_POINT, ON_PATH = -1.0, -2.0
CANDIDATES = 48  # for a place inside, in cells that may be
FINE_CANDIDATES = 512  # and in finer ones, for those that found none
COARSE_ENOUGH = 0.15  # the share of those cells that is inside, below which finer ones are taken at once
MOST_CELLS = 200_000  # of the finer ones
DEFORM_STEP = 1 / 240  # seconds of a mesh's own animation within which births take its turning as the same
CELLS_ALONG = 12  # along the longest side of a mesh, for places inside
MAX_DIVIDED = 400_000  # triangles into which a mesh is divided at most to follow a picture
PLANAR = np.cos(np.radians(1.0))  # edges between triangles flatter than this are none that anybody sees

Density = Callable[[np.ndarray], np.ndarray]  # (u, v), (n, 2) -> how dense births are there, (n,), 0 or more


@dataclass(frozen=True)
class DividedSurface:
    """Triangles divided to about a pixel each. face: original triangle, (m,). corners: barycentric, (m, 3, 3). total:
    cumulative weights."""

    face: np.ndarray
    corners: np.ndarray
    total: np.ndarray


class EmissionSurface:
    """A geometry on which births happen. marked: the points of a path that were drawn by hand; by default all."""

    def __init__(self, geometry: Mesh | Path, marked: np.ndarray | None = None):
        self.geometry, self.marked = geometry, marked

    # births ---------------------------------------------------------------------------------------------------------
    def bind(
        self,
        on: str,
        uniform: np.ndarray,
        away: np.ndarray,
        small: DividedSurface | None = None,
        shares: np.ndarray | None = None,
    ) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return bindings, offsets and whether a place was found, (n,), for births.

        on: surface, inside, points or edges. uniform: (n, 3) in [0, 1). away: offset along the normal, metres, (n,).
        small: a surface divided by a picture (`divided`). shares: cumulative weights of points by a picture.
        """
        n = len(uniform)
        found = np.ones(n, bool)
        if isinstance(self.geometry, Path):
            share = (
                uniform[:, 0]
                if on == "edges" or not len(self._stops)
                else self._stops[_pick(uniform[:, 0], len(self._stops))]
            )
            binding = np.column_stack([share, np.full(n, ON_PATH), np.zeros(n)])
            offset = np.zeros((n, 3))
            offset[:, 1] = away
            return _exact(binding), _exact(offset), found
        mesh = self.geometry
        if not len(mesh.points):
            return np.zeros((n, 3)), np.zeros((n, 3)), np.zeros(n, bool)
        if on == "points" or not len(mesh.faces):
            if shares is not None and not shares[-1] > 0:
                return np.zeros((n, 3)), np.zeros((n, 3)), np.zeros(n, bool)
            which = (
                _pick(uniform[:, 0], len(self._points))
                if shares is None
                else np.searchsorted(shares, uniform[:, 0] * shares[-1], side="right")
            )
            index = self._points[np.minimum(which, len(self._points) - 1)]
            binding = np.column_stack([index.astype(F64), np.full(n, AT_POINT), np.zeros(n)])
            return _exact(binding), _exact(self._normals[index] * away[:, None]), found
        if on == "inside":
            return self._inside(uniform, away)
        if small is not None and on == "surface":
            if not small.total[-1] > 0:
                return np.zeros((n, 3)), np.zeros((n, 3)), np.zeros(n, bool)
            which = np.minimum(
                np.searchsorted(small.total, uniform[:, 0] * small.total[-1], side="right"), len(small.face) - 1
            )
            root, v = np.sqrt(uniform[:, 1]), uniform[:, 2]
            local = np.stack([1 - root, root * (1 - v), root * v], axis=1)
            bary = np.einsum("ni,nij->nj", local, small.corners[which])
            places = Places(small.face[which], bary)
        elif on == "edges":
            places = self._on_edges(uniform)
        else:
            places = mesh.on_surface(uniform[:, 0], uniform[:, 1], uniform[:, 2])
        binding = _exact(np.column_stack([places.face.astype(F64), places.bary[:, 1], places.bary[:, 2]]))
        offset = self._in_triangle(binding, self._smooth(binding) * away[:, None])
        return binding, _exact(offset), found

    def near(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return bindings and offsets of points (n, 3) in the prop's own space, each bound to the nearest place of the
        mesh at rest."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        near, _ = mesh.nearest(points)
        binding = _exact(np.column_stack([np.maximum(near.face, 0).astype(F64), near.bary[:, 1], near.bary[:, 2]]))
        base = np.einsum("ni,nij->nj", _bary(binding), mesh.corners[self._slot(binding, len(mesh.faces))])
        return binding, _exact(self._in_triangle(binding, points - base))

    def divided(self, density: Density, pixels: tuple[int, int]) -> DividedSurface:
        """Return the surface divided to about a pixel each, weighted by area times the density at the centre.

        pixels: width and height of the density's picture.
        """
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        uv = mesh.uv.astype(F64)[mesh.faces] * np.asarray(pixels, F64)
        longest = np.max(np.linalg.norm(uv - np.roll(uv, 1, axis=1), axis=2), axis=1)
        parts = np.clip(np.ceil(longest), 1, 4096)
        if np.square(parts).sum() > MAX_DIVIDED:
            parts = np.maximum(1, np.floor(parts * np.sqrt(MAX_DIVIDED / np.square(parts).sum())))
        parts = parts.astype(np.int64)
        faces, corners, weights = [], [], []
        for k in np.unique(parts):
            which = np.flatnonzero(parts == k)
            pattern = triangles(int(k))
            face = np.repeat(which, len(pattern))
            corner = np.tile(pattern, (len(which), 1, 1))
            middle = np.einsum("nj,njk->nk", corner.mean(axis=1), mesh.uv.astype(F64)[mesh.faces[face]])
            faces.append(face)
            corners.append(corner)
            weights.append(mesh.areas[face] / len(pattern) * density(middle))
        face = np.concatenate(faces) if faces else np.zeros(0, np.int64)
        weight = np.nan_to_num(np.maximum(np.concatenate(weights), 0)) if faces else np.zeros(1)
        return DividedSurface(face, np.concatenate(corners) if faces else np.zeros((0, 3, 3)), np.cumsum(weight))

    def weighed_points(self, density: Density) -> np.ndarray:
        """Return cumulative densities of the points, as `bind` takes them."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        return np.cumsum(np.nan_to_num(np.maximum(density(mesh.uv.astype(F64)[self._points]), 0)))

    # where they are ---------------------------------------------------------------------------------------------------
    def stand(self, binding: np.ndarray, offset: np.ndarray, clock: np.ndarray) -> np.ndarray:
        """Return the positions of bindings in the prop's own space, (n, 3). clock: times of its own animation, (n,) or
        (1,)."""
        where = np.empty((len(binding), 3))
        if isinstance(self.geometry, Path):
            where[:] = self.geometry.point(binding[:, 0])
            if offset.any():
                where += sum(offset[:, k : k + 1] * axis for k, axis in enumerate(self.geometry.frame(binding[:, 0])))
            return where
        clock = np.broadcast_to(clock, (len(binding),))
        if not len(self.geometry.points):
            return np.zeros((len(binding), 3))
        loose = self._loose(binding)
        if loose.any():
            where[loose] = (
                self._corner(self._slot(binding[loose], len(self.geometry.points)), clock[loose]) + offset[loose]
            )
        if not loose.all():
            on = ~loose
            corners = self._corners(self._slot(binding[on], len(self.geometry.faces)), clock[on])
            where[on] = np.einsum("ni,nij->nj", _bary(binding[on]), corners)
            if offset[on].any():
                off = np.einsum(
                    "nk,nkj->nj", offset[on], axes(corners if not self.geometry.moves else self._rest(binding[on]))
                )
                if self.geometry.moves:
                    off = np.einsum("nij,nj->ni", self.turned(binding[on], clock[on]), off)
                where[on] += off
        return where

    def normal(self, binding: np.ndarray, clock: np.ndarray) -> np.ndarray:
        """Return unit normals at bindings, (n, 3): smooth, and rotated with their triangles since rest."""
        if isinstance(self.geometry, Path):
            return self.geometry.frame(binding[:, 0])[1]
        if not len(self.geometry.points):
            return np.tile([0.0, 1.0, 0.0], (len(binding), 1))
        normals = np.empty((len(binding), 3))
        loose = self._loose(binding)
        normals[loose] = self._normals[self._slot(binding[loose], len(self.geometry.points))]
        on = ~loose
        if on.any():
            smooth = self._smooth(binding[on])
            if self.geometry.moves:
                turned = self.turned(binding[on], np.broadcast_to(clock, (len(binding),))[on])
                smooth = np.einsum("nij,nj->ni", turned, smooth)
            normals[on] = smooth
        return normals

    def turned(self, binding: np.ndarray, clock: np.ndarray) -> np.ndarray:
        """Return the surface's rotation at bindings since rest, smooth over its triangles, (n, 3, 3). clock: times of
        the mesh's animation, (n,) or (1,)."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        face, bary = self._slot(binding, len(mesh.faces)), _bary(binding)
        moments = np.round(np.broadcast_to(clock, (len(binding),)) / DEFORM_STEP)
        turnings = np.empty((len(binding), 3, 3))
        for moment in np.unique(moments):
            here = moments == moment
            turnings[here] = mesh.turned(face[here], bary[here], float(moment * DEFORM_STEP))
        return turnings

    def uv(self, binding: np.ndarray) -> np.ndarray:
        """Return (u, v) at bindings, (n, 2); on a path the share of its length, and 0."""
        if isinstance(self.geometry, Path):
            return np.column_stack([binding[:, 0], np.zeros(len(binding))])
        if not len(self.geometry.points):
            return np.zeros((len(binding), 2))
        uv = np.empty((len(binding), 2))
        loose = self._loose(binding)
        uv[loose] = self.geometry.uv[self._slot(binding[loose], len(self.geometry.points))]
        if not loose.all():
            face = self._slot(binding[~loose], len(self.geometry.faces))
            uv[~loose] = np.einsum(
                "ni,nij->nj", _bary(binding[~loose]), self.geometry.uv.astype(F64)[self.geometry.faces[face]]
            )
        return uv

    # parts ----------------------------------------------------------------------------------------------------------
    def _loose(self, binding: np.ndarray) -> np.ndarray:
        """Return which bindings are at points, (n,) bool; all where there are no triangles."""
        assert isinstance(self.geometry, Mesh)
        return (binding[:, 1] < -0.5) | (not len(self.geometry.faces))

    @staticmethod
    def _slot(binding: np.ndarray, count: int) -> np.ndarray:
        return np.clip(binding[:, 0].astype(np.int64), 0, max(0, count - 1))

    @cached_property
    def _stops(self) -> np.ndarray:
        assert isinstance(self.geometry, Path)
        points = self.geometry.points if self.marked is None else self.marked
        return self.geometry.nearest(points)[0]

    @cached_property
    def _points(self) -> np.ndarray:
        """The points at which births can be: one of several coincident ones."""
        assert isinstance(self.geometry, Mesh)
        return np.sort(np.unique(self.geometry.points.round(6), axis=0, return_index=True)[1])

    @cached_property
    def _normals(self) -> np.ndarray:
        """Normals at points, the mean of those that lie together."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        _, same = np.unique(mesh.points.round(6), axis=0, return_inverse=True)
        same = same.reshape(-1)
        total = np.zeros((same.max(initial=-1) + 1, 3))
        np.add.at(total, same, mesh.normals)
        normals = total[same]
        length = np.linalg.norm(normals, axis=1, keepdims=True)
        return np.where(length > 1e-9, normals / np.maximum(length, 1e-9), mesh.normals)

    def _smooth(self, binding: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        return mesh.normal(Places(self._slot(binding, len(mesh.faces)).astype(np.int32), _bary(binding)))

    def _rest(self, binding: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        return mesh.corners[self._slot(binding, len(mesh.faces))]

    def _in_triangle(self, binding: np.ndarray, vectors: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        return np.einsum("nkj,nj->nk", axes(mesh.corners[self._slot(binding, len(mesh.faces))]), vectors)

    def _corner(self, index: np.ndarray, clock: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        if not mesh.moves:
            return mesh.points[index].astype(F64)
        assert mesh.frames is not None and mesh.times is not None
        i, share = keyframe_at(mesh.times, clock)
        i, share = i.reshape(-1, *[1] * (index.ndim - 1)), share.reshape(-1, *[1] * index.ndim)
        return mesh.frames[i, index] * (1 - share) + mesh.frames[i + 1, index].astype(F64) * share

    def _corners(self, face: np.ndarray, clock: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        return self._corner(mesh.faces[face], clock) if mesh.moves else mesh.corners[face]

    def _inside(self, uniform: np.ndarray, away: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        n = len(uniform)
        points, found = np.zeros((n, 3)), np.zeros(n, bool)
        tried = np.empty((n, 3))
        for first, last in ((0, CANDIDATES if self._roomy else 0), (CANDIDATES, CANDIDATES + FINE_CANDIDATES)):
            if found.all() or first == last:
                continue
            low, size, cells = self._room if first == 0 else self._finer_room
            for attempt in range(first, last if len(cells) else first):
                open_ones = np.flatnonzero(~found)
                if not len(open_ones):
                    break
                spend(len(open_ones) * 400)
                here, mine = np.ascontiguousarray(uniform[open_ones], F64), tried[: len(open_ones)]
                rehash_uniform(here, 2 * attempt, mine)
                cell = cells[_pick(mine[:, 0], len(cells))]
                rehash_uniform(here, 2 * attempt + 1, mine)
                places = low + (cell + mine) * size
                inside = mesh.inside(places)
                points[open_ones[inside]], found[open_ones[inside]] = places[inside], True
        near, _ = mesh.nearest(points)
        binding = _exact(np.column_stack([np.maximum(near.face, 0).astype(F64), near.bary[:, 1], near.bary[:, 2]]))
        base = np.einsum("ni,nij->nj", _bary(binding), mesh.corners[self._slot(binding, len(mesh.faces))])
        offset = self._in_triangle(binding, points - base + self._smooth(binding) * away[:, None])
        return binding, _exact(offset), found

    @cached_property
    def _room(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Cells for points inside: the lowest corner, a cell's size, and the cells (m, 3) that are not wholly
        outside."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        low, high = mesh.bounds
        side = max(float((high - low).max()) / CELLS_ALONG, 1e-9)
        count = np.maximum(1, np.ceil((high - low) / side)).astype(int)
        size = np.where(high > low, (high - low) / count, 1e-9)
        cells = np.stack(np.meshgrid(*(np.arange(c) for c in count), indexing="ij"), -1).reshape(-1, 3).astype(F64)
        return low, size, self._not_outside(cells, low, size)

    @cached_property
    def _roomy(self) -> bool:
        """Whether enough of those cells is inside for points to be found quickly."""
        low, size, cells = self._room
        if not len(cells):
            return False
        even = np.arange(1024)[:, None] * np.sqrt([2.0, 3.0, 5.0, 7.0]) % 1.0  # Weyl's sequence: even over all of it
        places = low + (cells[_pick(even[:, 0], len(cells))] + even[:, 1:]) * size
        return float(self.geometry.inside(places).mean()) >= COARSE_ENOUGH  # type: ignore[union-attr]

    @cached_property
    def _finer_room(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """The same with smaller cells, for thin bodies, whose coarse cells lie mostly outside."""
        low, size, cells = self._room
        halves = np.stack(np.meshgrid(*[np.arange(2.0)] * 3, indexing="ij"), -1).reshape(-1, 3)
        while 0 < len(cells) <= MOST_CELLS // 8:
            spend(8 * len(cells) * 500)
            size = size / 2
            cells = self._not_outside((2 * cells[:, None] + halves).reshape(-1, 3), low, size)
        return low, size, cells

    def _not_outside(self, cells: np.ndarray, low: np.ndarray, size: np.ndarray) -> np.ndarray:
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        middle = low + (cells + 0.5) * size
        _, away = mesh.nearest(middle)
        return cells[(away <= np.linalg.norm(size) / 2 + 1e-9) | mesh.inside(middle)]

    def _on_edges(self, uniform: np.ndarray) -> Places:
        face, corner, total = self._lines
        which = np.minimum(np.searchsorted(total, uniform[:, 0] * total[-1], side="right"), len(face) - 1)
        bary = np.zeros((len(uniform), 3))
        rows = np.arange(len(uniform))
        bary[rows, corner[which]] = 1 - uniform[:, 1]
        bary[rows, (corner[which] + 1) % 3] = uniform[:, 1]
        return Places(face[which].astype(np.int32), bary)

    @cached_property
    def _lines(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Each visible edge once, as a triangle and its corner, with cumulative lengths; the rim where everything is
        flat."""
        mesh = self.geometry
        assert isinstance(mesh, Mesh)
        _, same = np.unique(mesh.points.round(6), axis=0, return_inverse=True)
        welded = same.reshape(-1)[mesh.faces]
        pairs = np.sort(np.stack([welded, np.roll(welded, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
        owner, corner = np.repeat(np.arange(len(mesh.faces)), 3), np.tile(np.arange(3), len(mesh.faces))
        _, first, which, count = np.unique(pairs, axis=0, return_index=True, return_inverse=True, return_counts=True)
        which = which.reshape(-1)
        other = np.zeros(len(first), np.int64)
        other[which] = owner  # the last triangle of each edge
        flat = (count == 2) & (
            np.einsum("ij,ij->i", mesh.face_normals[owner[first]], mesh.face_normals[other]) > PLANAR
        )
        seen = first[~flat] if not flat.all() else first
        ends = mesh.corners[owner[seen], corner[seen]], mesh.corners[owner[seen], (corner[seen] + 1) % 3]
        return owner[seen], corner[seen], np.cumsum(np.linalg.norm(ends[1] - ends[0], axis=1) + 1e-300)


def _pick(uniform: np.ndarray, count: int) -> np.ndarray:
    return np.minimum((uniform * count).astype(np.int64), max(0, count - 1))


def _exact(values: np.ndarray) -> np.ndarray:
    """Return values rounded as the state stores them."""
    return values.astype(np.float32).astype(F64)


def _bary(binding: np.ndarray) -> np.ndarray:
    return np.column_stack([1 - binding[:, 1] - binding[:, 2], binding[:, 1], binding[:, 2]])


def triangles(parts: int) -> np.ndarray:
    """Return the barycentric corners of the parts² equal triangles into which a triangle is divided, (parts², 3, 3)."""
    triangles_of = []
    for i in range(parts):
        for j in range(parts - i):
            a, b, c, d = (i, j), (i + 1, j), (i, j + 1), (i + 1, j + 1)
            triangles_of.append((a, b, c))
            if j < parts - i - 1:
                triangles_of.append((b, d, c))
    at = np.array(triangles_of, F64) / parts
    return np.concatenate([1 - at.sum(axis=2, keepdims=True), at], axis=2)
