"""A bent leaf."""

from __future__ import annotations

import numpy as np

from ..mesh import Mesh

LABEL, HELP = "Leaf", "A pointed sheet, bent along its middle and over its length: leaves, petals, scraps."


def build() -> Mesh:
    s, t = np.meshgrid(np.linspace(-1, 1, 5), np.linspace(0, 1, 9))
    wide = 0.27 * np.sin(np.pi * t**0.8) ** 0.8
    x, y = s * wide, t - 0.5
    z = 0.1 * np.sin(np.pi * t) - 0.06 + 0.5 * np.abs(x) * (1 - np.abs(t - 0.5))
    i, j = (g.ravel() for g in np.meshgrid(np.arange(4), np.arange(8)))
    a, b, c, d = j * 5 + i, j * 5 + i + 1, (j + 1) * 5 + i + 1, (j + 1) * 5 + i
    faces = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    points = np.stack([x, y, z], axis=-1).reshape(-1, 3)
    corners = points[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    return Mesh.of(points, faces[area > 1e-9], np.stack([(s + 1) / 2, t], axis=-1).reshape(-1, 2))
