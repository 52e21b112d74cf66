"""Cells of a surface, whether it is closed or not: scraps of paper, flakes of paint."""

from __future__ import annotations

import numpy as np
import scipy

from ...errors import GeometryProblem
from ...kernels.voronoi import cut_triangles
from ...wanted import spend
from ..mesh import Mesh
from . import Breaking, Broken, corners_of, of_triangles
from .seeds import seeds

LABEL, HELP = "scraps of its surface", "The surface in so many pieces, closed or not: paper, cloth, flakes of paint."


def parts(mesh: Mesh, how: Breaking) -> Broken:
    """Return the surface of a mesh cut where two seeds are as near: each scrap is what one seed is nearest to, exact to rounding."""
    sites = seeds(mesh, how, inside=False)
    if not len(sites):
        raise GeometryProblem("There is no surface to break.", remedy="Choose a mesh with an area; see whether the picture is black all over.")
    corners = corners_of(mesh)
    points = np.ascontiguousarray(corners[:, :, :3])
    spend(20 * len(points) + 200 * len(sites))
    tree = scipy.spatial.cKDTree(sites)
    middle = points.mean(axis=1)
    reach = np.linalg.norm(points - middle[:, None], axis=2).max(axis=1)
    away, _ = tree.query(middle)
    near = tree.query_ball_point(middle, away + 2 * reach + 1e-12)  # nobody further can have a share of the triangle
    first = np.cumsum([0, *(len(each) for each in near)]).astype(np.int64)
    bary, face, part = cut_triangles(points, sites, first, np.concatenate([np.sort(each) for each in near]).astype(np.int64))
    _, part = np.unique(part, return_inverse=True)  # seeds that got nothing are none
    part = part.reshape(-1)
    return of_triangles(np.einsum("tkj,tjc->tkc", bary, corners[face]), face, part, int(part.max(initial=-1)) + 1, False)
