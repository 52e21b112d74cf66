"""Every triangle by itself."""

from __future__ import annotations

import numpy as np

from ...errors import BudgetError
from ..mesh import Mesh
from . import MOST_PARTS, BreakSettings, BrokenMesh, corners_of, of_triangles

LABEL, HELP = "its triangles", "Every triangle by itself: paper, glass, feathers of a bird."


def parts(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return each triangle of a mesh as a part."""
    if len(mesh.faces) > MOST_PARTS:
        raise BudgetError(
            f"It has {len(mesh.faces):,} triangles.",
            remedy=f"Break it into scraps or cells; into triangles at most {MOST_PARTS:,}.",
        )
    return of_triangles(
        corners_of(mesh), np.arange(len(mesh.faces)), np.arange(len(mesh.faces)), len(mesh.faces), False
    )
