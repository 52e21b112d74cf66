"""Where cells and scraps of a mesh are: one seed each; every place belongs to the seed that is nearest (Voronoi
cells)."""

from __future__ import annotations

import numpy as np

from ...kernels.voronoi import furthest_first
from ..mesh import Mesh
from . import BreakSettings

SLIVERS, THIN = 5, 0.16  # into how many slivers one cell goes, and how far apart their seeds are, of a cell's size
CANDIDATES = 8


def seeds(mesh: Mesh, how: BreakSettings, inside: bool) -> np.ndarray:
    """Return seeds (n, 3), metres: about `how.count`, evenly over the volume or the area, or as dense as a picture
    says; a share of them split into slivers that lie side by side across a direction of their own."""
    random = np.random.Generator(np.random.PCG64(how.seed))
    share = float(np.clip(how.splinters, 0, 1))
    whole = max(1, round(how.count / (1 - share + share * SLIVERS)))
    points = _best_candidates(mesh, how, random, whole, inside)
    if share <= 0 or not len(points):
        return points[: how.count]
    size = _size(mesh, len(points), inside)
    split = random.random(len(points)) < share
    ways = random.normal(size=(len(points), 3))
    ways /= np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)
    steps = (np.arange(SLIVERS) - (SLIVERS - 1) / 2) * THIN * size
    slivers = points[split][:, None, :] + ways[split][:, None, :] * steps[None, :, None]
    return np.concatenate([points[~split], slivers.reshape(-1, 3)])


def _best_candidates(
    mesh: Mesh, how: BreakSettings, random: np.random.Generator, count: int, inside: bool
) -> np.ndarray:
    """Return places, further apart than chance would have them: of some tried each time the one furthest from those
    there are (Mitchell, "Spectrally optimal sampling for distribution ray tracing", SIGGRAPH 1991)."""
    tries = count * CANDIDATES
    if inside:
        tried, found = mesh.in_volume(random.random((tries, 24, 3)))
        tried = tried[found]
        uv = mesh.uv_at(mesh.nearest(tried)[0]) if how.dense is not None and len(tried) else None
    else:
        places = mesh.on_surface(*random.random((3, tries)))
        tried, uv = mesh.point(places), mesh.uv_at(places)
    if how.dense is not None and uv is not None and len(tried):
        dense = np.nan_to_num(np.maximum(how.dense(uv), 0))
        keep = random.random(len(tried)) < dense / max(float(dense.max()), 1e-12)
        tried = tried[keep]
        return tried[:count]
    if len(tried) <= count:
        return tried
    return _furthest_of(tried, count)


def _furthest_of(tried: np.ndarray, count: int) -> np.ndarray:
    """Return `count` of some places, each the furthest of its share of them from those already taken."""
    sizes = [len(group) for group in np.array_split(np.arange(len(tried)), count)]
    return tried[furthest_first(np.ascontiguousarray(tried, np.float64), np.cumsum([0, *sizes]).astype(np.int64))]


def _size(mesh: Mesh, count: int, inside: bool) -> float:
    """Return about how large one of so many cells is, metres."""
    if inside:
        c = mesh.corners
        volume = abs(float(np.einsum("ij,ij->i", c[:, 0], np.cross(c[:, 1], c[:, 2])).sum())) / 6
        return float((volume / max(count, 1)) ** (1 / 3))
    return float((mesh.areas.sum() / max(count, 1)) ** 0.5)
