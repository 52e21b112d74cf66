"""What a particle cache holds of a frame, whatever the file format."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# name, little-endian type, components; lengths in metres, times in seconds, linear-light colour
COLUMNS: tuple[tuple[str, str, int], ...] = (
    ("key", "<u8", 1),
    ("position", "<f4", 3),
    ("velocity", "<f4", 3),
    ("age", "<f4", 1),
    ("lifespan", "<f4", 1),
    ("size", "<f4", 1),
    ("color", "<f4", 3),
    ("opacity", "<f4", 1),
    ("rotation", "<f4", 1),
    ("emitter", "<i4", 1),
)


@dataclass(frozen=True)
class FrameParticles:
    """All particles of all emitters at one frame; arrays as COLUMNS says, (n,) or (n, 3)."""

    number: int
    seconds: float
    arrays: dict[str, np.ndarray]

    def __len__(self) -> int:
        return len(self.arrays["key"])
