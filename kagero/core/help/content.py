"""What files of cards hold: made up, so that a card on a picture or mesh needs no file."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np

from ..errors import GeometryProblem
from ..geometry import Drawing, Film, ImportedGeometry, Mesh, Picture, VectorField, shape

PICTURE, MESH, DRAWING, POINTS, FIELD = ("1" * 32, "2" * 32, "3" * 32, "4" * 32, "5" * 32)
FILM = "6" * 32
FILES = {"picture": PICTURE, "mesh": MESH, "logo": DRAWING, "points": POINTS, "field": FIELD, "film": FILM}


def made_up(content: str) -> ImportedGeometry:
    """Return what a card's file holds, by its content. Raises GeometryProblem for another."""
    if content == PICTURE:
        return _glow()
    if content == MESH:
        mesh = shape("funnel", profile=[(0.12, 0.0), (0.3, 0.25), (0.34, 0.55), (0.2, 0.8)])
        assert isinstance(mesh, Mesh)
        return mesh
    if content == DRAWING:
        turn = np.linspace(0, 2 * np.pi, 10, endpoint=False)
        star = np.stack([np.sin(turn), np.cos(turn)], 1) * np.where(np.arange(10) % 2, 0.45, 1.0)[:, None]
        return Drawing(((star,),), ("nonzero",), (np.concatenate([star, star[:1]]),))
    if content == POINTS:
        turn = np.linspace(0, 12 * np.pi, 240)
        spots = np.stack([0.5 * np.cos(turn), np.linspace(0, 1.2, 240), 0.5 * np.sin(turn)], 1)
        return Mesh.of(spots.astype(np.float32), np.zeros((0, 3), np.int32), np.zeros((240, 2), np.float32))
    if content == FIELD:  # air that turns, and rises in the middle
        z, _, x = np.meshgrid(*(np.linspace(-1, 1, 9),) * 3, indexing="ij")
        values = np.stack([-z, 0.8 - np.hypot(x, z), x], axis=-1) * 1.5
        return VectorField(np.array([-1.0, -0.8, -1.0]), np.full(3, 0.25), values.astype(np.float32))
    if content == FILM:  # a glow that goes and comes
        return Film(
            (96, 96),
            24,
            Fraction(24),
            np.zeros(0, np.uint8),
            lambda number: Picture(_glow().pixels * (0.6 - 0.4 * math.cos(number / 24 * math.tau))),
        )
    raise GeometryProblem("A card has no such file.")


def _glow() -> Picture:
    """Return a lantern's glow: bright in the middle, warm, dark at the rim; (96, 96) of linear light."""
    across, up = np.meshgrid(np.linspace(-1, 1, 96), np.linspace(-1, 1, 96))
    light = np.clip(1 - np.hypot(across, up), 0, 1)
    return Picture(np.stack([light, 0.55 * light, 0.2 * light, np.ones_like(light)], 2).astype(np.float32))
