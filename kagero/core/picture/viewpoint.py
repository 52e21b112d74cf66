"""Where a picture is taken from."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

NEAR = 0.02  # metres; nothing closer is drawn


@dataclass(frozen=True)
class Viewpoint:
    """A pinhole camera: position and target in metres; field_of_view: vertical, radians; up: what is upward in its picture, y without."""

    position: tuple[float, float, float]
    target: tuple[float, float, float]
    field_of_view: float
    up: tuple[float, float, float] | None = None

    def axes(self) -> np.ndarray:
        """Return the unit vectors to the right, up and back, (3, 3) by rows."""
        eye = np.asarray(self.position, np.float64)
        forward = np.asarray(self.target, np.float64) - eye
        forward /= np.linalg.norm(forward)
        up = np.array([0.0, 1.0, 0.0]) if abs(forward[1]) < 0.9999 else np.array([0.0, 0.0, -math.copysign(1, forward[1])])
        if self.up is not None and np.linalg.norm(np.cross(forward, self.up)) > 1e-6:
            up = np.asarray(self.up, np.float64)
        right = np.cross(forward, up)
        right /= np.linalg.norm(right)
        return np.stack([right, np.cross(right, forward), -forward])

    def project(self, points: np.ndarray, width: int, height: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
        """Return pixel x and y (n,), depth in metres (n,), and pixels per metre at one metre's depth."""
        right, above, back = self.axes()
        relative = points.astype(np.float64) - np.asarray(self.position, np.float64)
        depth = -(relative @ back)
        focal = height / (2 * math.tan(self.field_of_view / 2))
        safe = np.maximum(depth, NEAR)
        x = width / 2 + focal * (relative @ right) / safe
        y = height / 2 - focal * (relative @ above) / safe
        return x, y, depth, focal
