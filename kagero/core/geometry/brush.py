"""A soft brush over a mesh: push, pull, scale, smooth. Each stroke is a line of points; what it does depends on nothing
before it but the mesh."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import replace

import numpy as np
import scipy

from ..work_limits import spend
from .mesh import Mesh

ROUNDS = 4  # of smoothing a stroke


def apply_stroke(mesh: Mesh, kind: str, radius: float, strength: float, line: np.ndarray) -> Mesh:
    """Return a mesh after a stroke.

    kind: push (in) and pull (out) move points by `strength` metres along the mean normal under the brush; scale moves
    them from their middle by a share; smooth moves them towards their neighbours by a share. radius: metres. line: (n,
    3), where the brush went, in the mesh's own space. A point's part is (1 - q²)² at q = distance to the line / radius
    (common practice). Points that lie together move together. A mesh that moves keeps moving: each of its frames is
    moved alike.
    """
    points = mesh.points.astype(np.float64)
    spend(len(points) * len(line) * 20)
    line = np.asarray(line, np.float64).reshape(-1, 3)
    near = np.flatnonzero(((points >= line.min(axis=0) - radius) & (points <= line.max(axis=0) + radius)).all(axis=1))
    part = np.zeros(len(points))
    part[near] = np.square(1 - np.square(np.minimum(_to_line(points[near], line) / radius, 1.0)))
    under = np.flatnonzero(part > 0)
    if not len(under):
        return mesh
    moved = points.copy()
    if kind in ("push", "pull"):
        direction = (_normals(mesh, under) * part[under, None]).sum(axis=0)
        direction /= max(np.linalg.norm(direction), 1e-12)
        moved[under] += direction * (part[under, None] * (strength if kind == "pull" else -strength))
    elif kind == "scale":
        middle = (points[under] * part[under, None]).sum(axis=0) / part[under].sum()
        moved[under] += (points[under] - middle) * (part[under, None] * strength)
    else:
        welded, same = np.unique(mesh.points.round(6), axis=0, return_inverse=True)
        same = same.reshape(-1)
        faces = same[mesh.faces]
        ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
        ends = np.unique(np.sort(ends[ends[:, 0] != ends[:, 1]], axis=1), axis=0)
        count = len(welded)
        near = scipy.sparse.coo_array(
            (
                np.ones(2 * len(ends)),
                (np.concatenate([ends[:, 0], ends[:, 1]]), np.concatenate([ends[:, 1], ends[:, 0]])),
            ),
            shape=(count, count),
        ).tocsr()
        many = np.maximum(near.sum(axis=1), 1)[:, None]
        at, share = np.zeros((count, 3)), np.zeros(count)
        at[same], share[same] = points, part
        share = np.clip(share * strength, 0, 1)[:, None]
        for _ in range(ROUNDS):
            at = at + (near @ at / many - at) * share
        moved[under] = at[same[under]]
    shift = (moved - points).astype(np.float32)
    frames = None if mesh.frames is None else mesh.frames + shift
    return replace(mesh, points=(mesh.points + shift).astype(np.float32), frames=frames, given_normals=None)


def painted_share(points: np.ndarray, strokes: Iterable[tuple[str, float, float, np.ndarray]]) -> np.ndarray:
    """Return the share that strokes painted at points, (n,) from 0 to 1, one stroke after the other.

    points: (n, 3) metres, in the prop's own space. strokes: paint or erase, the radius in metres, the strength from 0
    to 1, and where it went, (m, 3). Paint brings a share nearer to 1, erasing nearer to 0, by the strength times the
    brush's part, (1 - q²)² at q = distance to the line / radius (common practice).
    """
    points = np.asarray(points, np.float64)
    share = np.zeros(len(points))
    for kind, radius, strength, line in strokes:
        line = np.asarray(line, np.float64).reshape(-1, 3)
        spend(len(points) * 20)
        near = np.flatnonzero(
            ((points >= line.min(axis=0) - radius) & (points <= line.max(axis=0) + radius)).all(axis=1)
        )
        spend(len(near) * len(line) * 20)
        part = strength * np.square(1 - np.square(np.minimum(_to_line(points[near], line) / radius, 1.0)))
        share[near] += ((1.0 if kind == "paint" else 0.0) - share[near]) * part
    return share


def _normals(mesh: Mesh, under: np.ndarray) -> np.ndarray:
    """Return the mesh's normals at some of its points, from the triangles about these alone."""
    if mesh.given_normals is not None:
        return mesh.normals[under]
    here = np.zeros(len(mesh.points), bool)
    here[under] = True
    about = mesh.faces[here[mesh.faces].any(axis=1)]
    used, faces = np.unique(about, return_inverse=True)
    small = Mesh.of(mesh.points[used], faces.reshape(-1, 3), mesh.uv[used])
    normals = np.tile([0.0, 1.0, 0.0], (len(mesh.points), 1))
    normals[used] = small.normals
    return normals[under]


def _to_line(points: np.ndarray, line: np.ndarray) -> np.ndarray:
    """Return how far points are from a line of points, metres."""
    away = np.linalg.norm(points - line[0], axis=1)
    for start, stop in itertools.pairwise(line):
        direction = stop - start
        square = direction @ direction
        if square > 0:
            gap = points - start
            share = np.clip(gap @ direction / square, 0, 1)
            gap -= share[:, None] * direction
            away = np.minimum(away, np.sqrt(np.einsum("ij,ij->i", gap, gap)))
    return away
