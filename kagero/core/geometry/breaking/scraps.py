"""Cells of a surface, whether it is closed or not: scraps of paper, flakes of paint."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import scipy

from ...errors import BudgetError, GeometryProblem
from ...kernels.voronoi import cut_triangles
from ...work_limits import claim, spend
from ..mesh import Mesh
from . import BreakSettings, BrokenMesh, corners_of, of_triangles
from .seeds import seeds

LABEL, HELP = "scraps of its surface", "The surface in so many pieces, closed or not: paper, cloth, flakes of paint."

FIRST_SEEDS = 32  # seeds about each that are tried first
PAIRS, MOST_PAIRS = 1_000_000, 4_000_000  # triangles with seeds that may have a share of them: at a time, and in all


def parts(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return the surface of a mesh cut where two seeds are as near: each scrap is what one seed is nearest to, exact to
    rounding."""
    sites = seeds(mesh, how, inside=False)
    if not len(sites):
        raise GeometryProblem(
            "There is no surface to break.",
            remedy="Choose a mesh with an area; see whether the picture is black all over.",
        )
    corners = corners_of(mesh)
    points = np.ascontiguousarray(corners[:, :, :3])
    spend(20 * len(points) + 200 * len(sites))
    tree = scipy.spatial.cKDTree(sites)
    about = (
        np.atleast_2d(tree.query(sites, min(FIRST_SEEDS + 1, len(sites)))[1]).reshape(len(sites), -1).astype(np.int64)
    )
    middle = points.mean(axis=1)
    reach = np.linalg.norm(points - middle[:, None], axis=2).max(axis=1)
    away, _ = tree.query(middle)
    within = away + 2 * reach + 1e-12  # no seed further away can have a share of the triangle
    many = tree.query_ball_point(middle, within, return_length=True)
    if many.sum() > MOST_PAIRS:
        raise BudgetError(
            f"Its {len(points):,} triangles are long against {len(sites):,} scraps.",
            where="count",
            remedy="Break it into fewer scraps, or a mesh of shorter triangles.",
        )
    cut = []
    for low, high in _in_groups(many):
        spend(100 * int(many[low:high].sum()))
        near = np.concatenate(
            [np.sort(each) for each in tree.query_ball_point(middle[low:high], within[low:high])]
        ).astype(np.int64)
        first = np.concatenate([[0], np.cumsum(many[low:high])]).astype(np.int64)
        shares, of, part = cut_triangles(points[low:high], sites, first, near, about)
        cut.append((shares, of + low, part))
        claim(
            100 * sum(len(each) for *_, each in cut),
            "The scraps of a mesh",
            "Break a simpler mesh, or into fewer scraps.",
        )
    bary, face, part = (np.concatenate(each) for each in zip(*cut, strict=True))
    _, part = np.unique(part, return_inverse=True)  # seeds that got nothing are none
    part = part.reshape(-1)
    return of_triangles(
        np.einsum("tkj,tjc->tkc", bary, corners[face]), face, part, int(part.max(initial=-1)) + 1, False
    )


def _in_groups(many: np.ndarray) -> Iterator[tuple[int, int]]:
    """Yield the first of each group of triangles and the one after its last, so that a group has about `PAIRS` seeds or
    is one triangle."""
    low, total = 0, np.concatenate([[0], np.cumsum(many)])
    while low < len(many):
        high = max(low + 1, int(np.searchsorted(total, total[low] + PAIRS, side="right")) - 1)
        yield low, high
        low = high
