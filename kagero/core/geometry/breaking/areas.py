"""A picture's own areas: what is drawn on it, island by island; of one without transparency, what is of one colour."""

from __future__ import annotations

import numpy as np
import scipy

from ...errors import BudgetError, GeometryProblem
from ..mesh import Mesh
from . import MOST_PARTS, BreakSettings, BrokenMesh, of_triangles

LABEL = "its areas"
HELP = "Of a picture: what is drawn on it, island by island; without transparency, what is of one colour."
# a side that is looked at; colours told apart; pixels of an area, what is less belongs to those about it
MOST_PIXELS = 256
COLOURS = 6
LEAST = 4


def parts(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return the areas of a picture on a flat mesh, each cut along its pixels."""
    if how.picture is None:
        raise GeometryProblem(
            "Only a picture has areas.",
            where="into",
            remedy="Choose a picture, or break it into parts, scraps or cells.",
        )
    label, count = areas(how.picture)
    if count < 1:
        raise GeometryProblem(
            "This picture has no areas: all of it is see-through.",
            where="into",
            remedy="Choose another, or break it into scraps.",
        )
    if count > MOST_PARTS:
        raise BudgetError(
            f"This picture has {count:,} areas.", remedy=f"Choose one with at most {MOST_PARTS:,}; smooth its noise."
        )
    rows, starts, ends, part = _runs(label)
    height, width = label.shape
    u0, u1, v0, v1 = starts / width, ends / width, 1 - (rows + 1) / height, 1 - rows / height
    uv = np.stack([np.stack(each, axis=1) for each in ((u0, v0), (u1, v0), (u1, v1), (u0, v1))], axis=1)
    flat = np.column_stack([np.ones(len(mesh.uv)), mesh.uv.astype(np.float64)])
    places, *_ = np.linalg.lstsq(flat, mesh.points.astype(np.float64), rcond=None)  # the mesh is flat: where (u, v) is
    points = uv @ places[1:] + places[0]
    normal = mesh.normals[0]
    corners = np.concatenate([points, np.broadcast_to(normal, points.shape), uv], axis=2)
    triangles = np.concatenate([corners[:, [0, 1, 2]], corners[:, [0, 2, 3]]])
    a, b = triangles[0, 1, :3] - triangles[0, 0, :3], triangles[0, 2, :3] - triangles[0, 0, :3]
    if np.cross(a, b) @ normal < 0:
        triangles = triangles[:, ::-1]
    return of_triangles(triangles, np.zeros(len(triangles), np.int64), np.tile(part, 2), count, False)


def areas(pixels: np.ndarray) -> tuple[np.ndarray, int]:
    """Return the number of each pixel's area, -1 where there is none, (h, w), and how many there are. pixels: (H, W,
    4), linear light."""
    step = max(1, -(-max(pixels.shape[:2]) // MOST_PIXELS))
    small = pixels[::step, ::step].astype(np.float64)
    there = small[..., 3] > 0.5
    if there.all():
        light = np.clip(small[..., :3], 0, 1) ** (1 / 2.2)
        kind = np.minimum((light * COLOURS).astype(int), COLOURS - 1) @ np.array([COLOURS**2, COLOURS, 1])
    else:
        kind = np.where(there, 0, -1)
    label, count = np.full(kind.shape, -1), 0
    for each in np.unique(kind[kind >= 0]):
        found, many = scipy.ndimage.label(kind == each)
        label[found > 0] = found[found > 0] - 1 + count
        count += many
    size = np.bincount(label[label >= 0], minlength=count)
    small_ones = (label >= 0) & (size[np.maximum(label, 0)] < LEAST)
    if small_ones.any() and (size >= LEAST).any():  # specks go to what is nearest
        _, nearest = scipy.ndimage.distance_transform_edt(small_ones | (label < 0), return_indices=True)
        label[small_ones] = label[tuple(nearest)][small_ones]
    kept, label[label >= 0] = np.unique(label[label >= 0], return_inverse=True)
    return label, len(kept)


def _runs(label: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return runs of one area in rows: row, first column, the column after its last, and the area."""
    height, width = label.shape
    edge = np.ones((height, width + 1), bool)
    edge[:, 1:-1] = label[:, 1:] != label[:, :-1]
    rows, at = np.nonzero(edge)
    first = np.flatnonzero(at < width)
    rows, starts = rows[first], at[first]
    ends = at[first + 1]
    part = label[rows, starts]
    return rows[part >= 0], starts[part >= 0], ends[part >= 0], part[part >= 0]
