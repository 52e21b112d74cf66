"""A ball."""

from __future__ import annotations

import numpy as np

from ..mesh import Mesh

LABEL, HELP = "Ball", "A round ball: beads, berries, hail."
ROUND, HIGH = 20, 10


def build() -> Mesh:
    u, v = np.meshgrid(np.linspace(0, 1, ROUND + 1), np.linspace(0, 1, HIGH + 1))
    ring = np.where((v == 0) | (v == 1), 0.0, np.sin(np.pi * v))
    out = np.stack(
        [ring * np.cos(2 * np.pi * (u % 1)), -np.cos(np.pi * v), -ring * np.sin(2 * np.pi * (u % 1))], axis=-1
    ).reshape(-1, 3)
    n = ROUND + 1
    i, j = (g.ravel() for g in np.meshgrid(np.arange(ROUND), np.arange(HIGH)))
    a, b, c, d = j * n + i, j * n + i + 1, (j + 1) * n + i + 1, (j + 1) * n + i
    faces = np.concatenate([np.stack([a, b, c], 1)[j > 0], np.stack([a, c, d], 1)[j < HIGH - 1]])
    return Mesh.of(out / 2, faces, np.stack([u, v], axis=-1).reshape(-1, 2), out)
