"""What is separate already: letters of words, leaves of a tree, boards of a crate."""

from __future__ import annotations

import numpy as np
import scipy

from ...errors import BudgetError
from ..mesh import Mesh
from . import MOST_PARTS, BreakSettings, BrokenMesh, corners_of, of_triangles

LABEL, HELP = "its separate parts", "What hangs together stays together: letters, leaves, boards."


def parts(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return the parts of a mesh whose triangles share points; points that lie together are one."""
    _, same = np.unique(mesh.points.round(6), axis=0, return_inverse=True)
    faces = same.reshape(-1)[mesh.faces]
    n = int(faces.max(initial=-1)) + 1
    links = scipy.sparse.coo_matrix(
        (np.ones(len(faces) * 2), (np.tile(faces[:, 0], 2), np.concatenate([faces[:, 1], faces[:, 2]]))), shape=(n, n)
    )
    _, label = scipy.sparse.csgraph.connected_components(links, directed=False)
    _, part = np.unique(
        label[faces[:, 0]], return_inverse=True
    )  # in the order of the mesh's own triangles would depend on it: by points instead
    part = part.reshape(-1)
    count = int(part.max(initial=-1)) + 1
    if count > MOST_PARTS:
        raise BudgetError(f"It has {count:,} separate parts.", remedy=f"Break up a mesh of at most {MOST_PARTS:,}.")
    return of_triangles(corners_of(mesh), np.arange(len(part)), part, count, mesh.is_closed)
