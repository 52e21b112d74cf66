"""A prop as it is drawn into a picture."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np


@dataclass(frozen=True)
class Solid:
    """A prop as it is drawn. points, normals: in the world, (V, 3); uv: (V, 2); local: (V, 3); gone: 0..1, (V,); faces: (F, 3) int32;
    colour: linear, (F, 3); texture: (H, W, 4) linear, of the faces where pictured. alpha: below 1 it hides nothing. lit: by the stage's
    light. by_uv: it falls apart by (u, v), not by its places. uid: of the prop. shines: else it covers, and gives no light. hides: it writes how
    far away it is; catches: of it only the shadows on it are seen; values: shown of its points instead of light, (V, 3)."""

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

    def black(self) -> Solid:
        """Return it as it covers what is behind it and gives no light."""
        return replace(self, colour=np.zeros_like(self.colour), shines=False)
