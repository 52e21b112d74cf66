"""A prop as it is drawn into a picture."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

WHITE = np.ones((1, 1, 4), np.float32)


@dataclass(frozen=True)
class Surface:
    """What a prop is made of: how rough, how much metal, the light it gives by itself, how many times its colour beside, and how much of what is no
    metal is metal all the same, (F, 7); pictures that these are multiplied by, (H, W, 4), of the faces where mapped, (F,), has bits 1 and 2: red
    for roughness and alpha for metal; light."""

    numbers: np.ndarray
    mapped: np.ndarray
    rough: np.ndarray = field(default_factory=lambda: WHITE)
    glow: np.ndarray = field(default_factory=lambda: WHITE)


@dataclass(frozen=True)
class Solid:
    """A prop as it is drawn. points, normals: in the world, (V, 3); uv: (V, 2); local: (V, 3); gone: 0..1, (V,); faces: (F, 3) int32;
    colour: linear, (F, 3); texture: (H, W, 4) linear, of the faces where pictured. alpha: below 1 it hides nothing. lit: by the stage's
    light. by_uv: it falls apart by (u, v), not by its places. uid: of the prop. shines: else it covers, and gives no light. hides: it writes how
    far away it is; catches: of it only the shadows on it are seen; values: shown of its points instead of light, (V, 3). surface: none: matte;
    laid: where a picture that a camera throws lies, (V, 3), to be divided by the third."""

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

    def black(self) -> Solid:
        """Return it as it covers what is behind it and gives no light."""
        pictured = (
            self.pictured if self.laid is None else np.zeros_like(self.pictured)
        )  # what is thrown onto it covers nothing
        return replace(self, colour=np.zeros_like(self.colour), pictured=pictured, surface=None, shines=False)

    def plain(self, colour: np.ndarray, lit: bool) -> Solid:
        """Return it in a colour, (F, 3) or (3,), without its pictures, matte."""
        flat = np.broadcast_to(colour, self.colour.shape).astype(np.float64).copy()
        return replace(self, colour=flat, pictured=np.zeros_like(self.pictured), surface=None, lit=lit)


@lru_cache(maxsize=64)
def matte(faces: int) -> Surface:
    """Return what a prop of so many faces is made of that neither gleams nor glows."""
    numbers = np.zeros((faces, 7))
    numbers[:, 0] = 1
    return Surface(numbers, np.zeros(faces, np.uint8))
