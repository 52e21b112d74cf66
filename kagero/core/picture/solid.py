"""A prop as it is drawn into a picture."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

WHITE = np.ones((1, 1, 4), np.float32)


@dataclass(frozen=True)
class Surface:
    """A prop's material: roughness, metalness, emitted light (3), emission as a multiple of the colour, share of metal
    in what is not metal, numbers (F, 7). rough, glow: pictures, (H, W, 4), that multiply them where mapped, (F,), has
    bits 1 and 2: red for roughness and alpha for metalness; emitted light."""

    numbers: np.ndarray
    mapped: np.ndarray
    rough: np.ndarray = field(default_factory=lambda: WHITE)
    glow: np.ndarray = field(default_factory=lambda: WHITE)


@dataclass(frozen=True)
class Solid:
    """A prop as it is drawn.

    points, normals: world space, (V, 3). uv: (V, 2). local: (V, 3). gone: dissolved share, 0 to 1, (V,). faces: (F, 3)
    int32. colour: linear, (F, 3). texture: (H, W, 4) linear, for faces where pictured. alpha: below 1 it hides nothing.
    lit: by the stage's light. by_uv: it dissolves by (u, v) instead of position. uid: of the prop. shines: otherwise it
    only occludes. hides: it writes depth. catches: only shadows on it are visible. values: shown at its points in place
    of light, (V, 3). surface: None: matte. laid: homogeneous position of a projected picture, (V, 3).
    """

    points: np.ndarray
    normals: np.ndarray
    uv: np.ndarray
    local: np.ndarray
    gone: np.ndarray
    faces: np.ndarray
    colour: np.ndarray
    texture: np.ndarray
    pictured: np.ndarray
    alpha: float = 1.0
    lit: bool = True
    by_uv: bool = False
    uid: str = ""
    shines: bool = True
    hides: bool = True
    catches: bool = False
    casts: bool = True
    values: np.ndarray | None = None
    surface: Surface | None = None
    laid: np.ndarray | None = None

    def as_occluder(self) -> Solid:
        """Return it as something that hides what is behind it and gives no light."""
        pictured = (
            self.pictured if self.laid is None else np.zeros_like(self.pictured)
        )  # what is thrown onto it covers nothing
        return replace(self, colour=np.zeros_like(self.colour), pictured=pictured, surface=None, shines=False)

    def plain(self, colour: np.ndarray, lit: bool) -> Solid:
        """Return it in a colour, (F, 3) or (3,), matte and without pictures."""
        flat = np.broadcast_to(colour, self.colour.shape).astype(np.float64).copy()
        return replace(self, colour=flat, pictured=np.zeros_like(self.pictured), surface=None, lit=lit)


@lru_cache(maxsize=64)
def matte(faces: int) -> Surface:
    """Return a matte material for a number of faces."""
    numbers = np.zeros((faces, 7))
    numbers[:, 0] = 1
    return Surface(numbers, np.zeros(faces, np.uint8))
