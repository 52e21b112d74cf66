"""A swept band."""

from __future__ import annotations

import numpy as np

from ..mesh import Mesh

LABEL = "Sweep"
HELP = (
    "A band swept round its own up axis, level, thin where it began; u along the sweep, v from inside out: what a "
    "blade leaves."
)
SPANS, ACROSS = 64, 6
TURN = 0.75  # of a whole turn


def build() -> Mesh:
    u, v = np.meshgrid(np.linspace(0, 1, SPANS + 1), np.linspace(0, 1, ACROSS + 1))
    wide = 0.2 * u**0.7 * (1 - u**16) ** 0.5  # from nothing at its tail to a round head
    angle, radius = 2 * np.pi * TURN * (u - 0.5), 0.5 - 0.1 * (1 - u) - wide * (1 - v)
    lift = 0.05 * (v - 0.5) ** 2
    points = np.stack([np.sin(angle) * radius, lift, np.cos(angle) * radius], axis=-1).reshape(-1, 3)
    n = SPANS + 1
    i, j = (g.ravel() for g in np.meshgrid(np.arange(SPANS), np.arange(ACROSS)))
    a, b, c, d = j * n + i, j * n + i + 1, (j + 1) * n + i + 1, (j + 1) * n + i
    faces = np.concatenate([np.stack([a, c, b], 1), np.stack([a, d, c], 1)])
    return Mesh.of(points, faces, np.stack([u, v], axis=-1).reshape(-1, 2))
