"""Cells of a closed mesh: solid pieces that fill it."""

from __future__ import annotations

import manifold3d
import numpy as np
import scipy

from ...errors import GeometryProblem
from ...work_limits import spend
from ..mesh import Mesh
from . import BreakSettings, BrokenMesh, of_triangles
from .seeds import seeds

LABEL = "solid cells"
HELP = "Solid pieces that fill it, with walls where it was inside: wood, stone, ice. It has to be closed."
GROUP = 24  # cells that are cut from one block
SMALLEST = 1e-9  # of the whole volume; a cell below it is none


def parts(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return the Voronoi cells of seeds within a closed mesh, cut by exact mesh booleans (the library manifold3d)."""
    if how.closing and not mesh.is_closed:
        mesh = hull(mesh)
    whole = solid(mesh)
    sites = seeds(mesh, how, inside=True)
    if not len(sites):
        raise GeometryProblem(
            "There is no room for cells in it.",
            remedy="Give it a thickness; see whether the picture is black all over.",
        )
    hulls = _cells(sites, mesh.bounds)
    centres = np.array([each.mean(axis=0) for each in hulls])
    pieces: list[manifold3d.Manifold] = []
    for group in _groups(centres):
        spend(len(mesh.faces) + 2000 * len(group))
        low, high = (f(np.concatenate([hulls[i] for i in group]), axis=0) for f in (np.min, np.max))
        margin = (high - low).max() * 0.01 + 1e-9
        block = whole ^ manifold3d.Manifold.cube(high - low + 2 * margin).translate(low - margin)
        pieces += [(i, block ^ manifold3d.Manifold.hull_points(hulls[i])) for i in group]
    pieces.sort(key=lambda each: each[0])
    least = SMALLEST * whole.volume()
    kept = [piece for _, piece in pieces if piece.volume() > least]
    triangles = [_triangles(piece, whole.original_id(), mesh) for piece in kept]
    part = np.repeat(np.arange(len(triangles)), [len(face) for _, face in triangles])
    return of_triangles(
        np.concatenate([c for c, _ in triangles]), np.concatenate([f for _, f in triangles]), part, len(triangles), True
    )


def solid(mesh: Mesh) -> manifold3d.Manifold:
    """Return a mesh as a solid, its normals and (u, v) carried along. Raises GeometryProblem where it is none."""
    faces = mesh.faces[:, ::-1] if mesh.turned_out < 0 else mesh.faces
    given = np.column_stack([mesh.points, mesh.normals, mesh.uv]).astype(np.float32)
    wired = manifold3d.Mesh(
        np.ascontiguousarray(given),
        np.ascontiguousarray(faces, np.uint32),
        face_id=np.arange(len(faces), dtype=np.uint32),
    )
    wired.merge()
    manifold = manifold3d.Manifold(wired)
    if manifold.status() != manifold3d.Error.NoError or manifold.is_empty() or manifold.volume() <= 0:
        raise GeometryProblem(
            "It is not closed, so it has no inside to break into cells.",
            where="into",
            remedy="Break it into scraps, triangles or parts; or break its hull instead.",
        )
    return manifold.as_original() if manifold.original_id() < 0 else manifold


def hull(mesh: Mesh) -> Mesh:
    """Return the convex hull of a mesh's points, each of its sides flat; (u, v) are those of the nearest place of the
    mesh. Raises GeometryProblem where all lies in a plane."""
    manifold = manifold3d.Manifold.hull_points(np.unique(mesh.points.astype(np.float64), axis=0))
    if manifold.is_empty() or manifold.volume() <= 0:
        raise GeometryProblem(
            "It is flat: its hull has no inside either.",
            where="into",
            remedy="Break it into scraps, or give it a thickness.",
        )
    wired = manifold.to_mesh()
    corners = np.asarray(wired.vert_properties)[:, :3][np.asarray(wired.tri_verts)].reshape(-1, 3)
    return Mesh.of(corners, np.arange(len(corners)).reshape(-1, 3), mesh.uv_at(mesh.nearest(corners)[0]))


def _cells(sites: np.ndarray, bounds: np.ndarray) -> list[np.ndarray]:
    """Return the corners of each site's cell within a box a little larger than bounds: sites mirrored in its six sides
    bound them."""
    margin = max(float((bounds[1] - bounds[0]).max()) * 0.05, 1e-6)
    low, high = bounds[0] - margin, bounds[1] + margin
    mirrored = [sites]
    for axis in range(3):
        for side in (low, high):
            other = sites.copy()
            other[:, axis] = 2 * side[axis] - other[:, axis]
            mirrored.append(other)
    voronoi = scipy.spatial.Voronoi(np.concatenate(mirrored))
    return [voronoi.vertices[voronoi.regions[voronoi.point_region[i]]] for i in range(len(sites))]


def _groups(centres: np.ndarray) -> list[np.ndarray]:
    """Return places in groups of neighbours: halved across the longest side until they are small enough."""
    waiting, done = [np.arange(len(centres))], []
    while waiting:
        group = waiting.pop()
        if len(group) <= GROUP:
            done.append(group)
            continue
        axis = int(np.argmax(np.ptp(centres[group], axis=0)))
        order = group[np.argsort(centres[group, axis], kind="stable")]
        waiting += [order[: len(order) // 2], order[len(order) // 2 :]]
    return done


def _triangles(piece: manifold3d.Manifold, original: int, mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """Return a piece's triangles by their corners, as in `Broken`, and of which of the mesh's each is, -1 for walls,
    which are flat."""
    wired = piece.to_mesh()
    given, triangles = np.asarray(wired.vert_properties, np.float64), np.asarray(wired.tri_verts, np.int64)
    corners = np.zeros((len(triangles), 3, 8))
    corners[:, :, : min(8, given.shape[1])] = given[triangles][:, :, :8]
    face = np.full(len(triangles), -1, np.int64)
    index, ids, faces = np.asarray(wired.run_index) // 3, np.asarray(wired.run_original_id), np.asarray(wired.face_id)
    for first, last, of in zip(index[:-1], index[1:], ids, strict=True):
        if of == original:
            face[first:last] = faces[first:last]
    wall = face < 0
    points = corners[wall][:, :, :3]
    normal = np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
    corners[wall, :, 3:6], corners[wall, :, 6:] = normal[:, None, :], 0
    return corners, face
