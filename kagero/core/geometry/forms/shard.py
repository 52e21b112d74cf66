"""A shard."""

from __future__ import annotations

import numpy as np

from ..mesh import Mesh

LABEL, HELP = "Shard", "A flat splinter with sharp edges: glass, ice, bark."
_POINTS = np.array(
    [
        (-0.18, -0.5, 0),
        (0.14, -0.32, 0.05),
        (0.2, 0.12, -0.02),
        (0.02, 0.5, 0),
        (-0.2, 0.1, 0.04),
        (0.02, 0.0, 0.07),
        (-0.02, -0.05, -0.07),
    ]
)


def build() -> Mesh:
    rim = (0, 1, 2, 3, 4)
    faces = [(rim[k], rim[(k + 1) % 5], 5) for k in range(5)] + [(rim[(k + 1) % 5], rim[k], 6) for k in range(5)]
    corners = _POINTS[np.array(faces)].reshape(-1, 3)  # each face on points of its own: its edges are sharp
    return Mesh.of(corners, np.arange(len(corners)).reshape(-1, 3), corners[:, :2] + 0.5)
