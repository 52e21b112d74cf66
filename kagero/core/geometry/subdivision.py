"""A mesh divided until it is fine enough to carry values at its points."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .emission import triangles
from .mesh import Mesh

TRIANGLES_ACROSS = 96  # how many of its longest sides go along a fine mesh
MOST, MOST_MOVING = 48_000, 12_000  # triangles
FINE_ENOUGH = 12_000  # triangles that are fine as they are


def subdivide(mesh: Mesh) -> Mesh:
    """Return the same surface in triangles of at most a hundredth of its size or so, as many as are allowed. Equal
    meshes give equal ones."""
    if not 0 < len(mesh.faces) < FINE_ENOUGH:
        return mesh
    corners = mesh.corners
    longest = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1)
    extent = float(np.ptp(mesh.bounds, axis=0).max()) or 1.0
    parts = np.clip(np.ceil(longest / (extent / TRIANGLES_ACROSS)), 1, 64)
    most = MOST_MOVING if mesh.moves else MOST
    if np.square(parts).sum() > most:
        parts = np.maximum(1, np.floor(parts * np.sqrt(most / np.square(parts).sum())))
    parts = parts.astype(np.int64)
    if (parts == 1).all():
        return mesh
    face, bary, pieces, count = [], [], [], 0
    for k in np.unique(parts):
        which = np.flatnonzero(parts == k)
        pattern = triangles(int(k))
        spots, index = np.unique(pattern.reshape(-1, 3).round(9), axis=0, return_inverse=True)
        index = index.reshape(-1, 3)
        face.append(np.repeat(which, len(spots)))
        bary.append(np.tile(spots, (len(which), 1)))
        pieces.append((index[None] + count + len(spots) * np.arange(len(which))[:, None, None]).reshape(-1, 3))
        count += len(spots) * len(which)
    owner, share = np.concatenate(face), np.concatenate(bary)
    faces = np.concatenate(pieces).astype(np.int32)

    def between(values: np.ndarray) -> np.ndarray:
        """Return values of the mesh's points, (..., V, j), interpolated at the points of the subdivided mesh, (..., n,
        j) float32."""
        return np.einsum("nk,...nkj->...nj", share, values[..., mesh.faces[owner], :]).astype(np.float32)

    per_face = np.concatenate([np.repeat(np.flatnonzero(parts == k), int(k) ** 2) for k in np.unique(parts)])
    frames = None if mesh.frames is None else np.stack([between(frame) for frame in mesh.frames])
    normals = between(mesh.normals.astype(np.float32))
    return replace(
        mesh,
        points=between(mesh.points),
        faces=faces,
        uv=between(mesh.uv),
        material=mesh.material[per_face],
        frames=frames,
        given_normals=normals,
    )
