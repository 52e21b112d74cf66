"""The viewpoint of a picture."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

NEAR = 0.02  # metres; nothing closer is drawn


@dataclass(frozen=True)
class Viewpoint:
    """A pinhole camera: position and target in metres; vertical field_of_view in radians; up: the picture's upward
    direction, y without one.

    aside: offset of a point on the lens from its centre, right and up, metres. focus: distance of the plane that stays
    in place in the picture, metres.
    """

    position: tuple[float, float, float]
    target: tuple[float, float, float]
    field_of_view: float
    up: tuple[float, float, float] | None = None
    aside: tuple[float, float] = (0.0, 0.0)
    focus: float = 1.0

    def axes(self) -> np.ndarray:
        """Return the unit vectors right, up and back, (3, 3) by rows."""
        eye = np.asarray(self.position, np.float64)
        forward = np.asarray(self.target, np.float64) - eye
        forward /= np.linalg.norm(forward)
        up = (
            np.array([0.0, 1.0, 0.0])
            if abs(forward[1]) < 0.9999
            else np.array([0.0, 0.0, -math.copysign(1, forward[1])])
        )
        if self.up is not None and np.linalg.norm(np.cross(forward, self.up)) > 1e-6:
            up = np.asarray(self.up, np.float64)
        right = np.cross(forward, up)
        right /= np.linalg.norm(right)
        return np.stack([right, np.cross(right, forward), -forward])

    @classmethod
    def of_matrix(cls, place: np.ndarray, field_of_view: float) -> Viewpoint:
        """Return the viewpoint of a camera with a transform, (4, 4), that looks along its own -z with y up (glTF
        2.0)."""
        eye = place[:3, 3]
        back, up = (place[:3, i] / max(float(np.linalg.norm(place[:3, i])), 1e-12) for i in (2, 1))
        return cls(_three(eye), _three(eye - back), field_of_view, _three(up))

    def through(self, right: float, up: float, focus: float) -> Viewpoint:
        """Return the same view through another point of the lens, offset from its centre in metres."""
        axes = self.axes()
        shift = axes[0] * right + axes[1] * up
        return replace(
            self,
            position=_three(np.asarray(self.position) + shift),
            target=_three(np.asarray(self.target) + shift),
            up=_three(axes[1]),
            aside=(right, up),
            focus=focus,
        )

    def middle(self, width: int, height: int) -> tuple[float, float, float]:
        """Return pixels a metre at a depth of one metre, and the middle of the view in pixels."""
        focal = height / (2 * math.tan(self.field_of_view / 2))
        near = focal / max(self.focus, NEAR)
        return focal, width / 2 + self.aside[0] * near, height / 2 - self.aside[1] * near

    def project(self, points: np.ndarray, width: int, height: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
        """Return pixel x and y (n,), depth in metres (n,), and pixels a metre at a depth of one metre."""
        right, above, back = self.axes()
        relative = points.astype(np.float64) - np.asarray(self.position, np.float64)
        depth = -(relative @ back)
        focal, across, down = self.middle(width, height)
        safe = np.maximum(depth, NEAR)
        x = across + focal * (relative @ right) / safe
        y = down - focal * (relative @ above) / safe
        return x, y, depth, focal


def _three(vector: np.ndarray) -> tuple[float, float, float]:
    return float(vector[0]), float(vector[1]), float(vector[2])
