"""A flat card."""

from __future__ import annotations

import numpy as np

from ..mesh import Mesh

LABEL, HELP = "Card", "A flat square that looks to +z: paper, tickets, anything with a picture on it."


def build() -> Mesh:
    uv = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], np.float32)
    return Mesh.of(np.column_stack([uv - 0.5, np.zeros(4)]), np.array([(0, 1, 2), (0, 2, 3)]), uv)
