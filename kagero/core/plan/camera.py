"""A camera as values of a program."""

from __future__ import annotations

import numpy as np

from ..document import Camera


def camera_values(camera: Camera) -> list[float]:
    """Return a camera's transform, three rows of four as `prop_matrix` gives them, and its vertical field of view in
    radians. It looks along its own -z with y up, as in glTF 2.0."""
    eye, target = np.array(camera.position, float), np.array(camera.target, float)
    back = (eye - target) / np.linalg.norm(eye - target)
    across = np.cross([0.0, 1.0, 0.0] if abs(back[1]) < 0.999 else [0.0, 0.0, -1.0], back)
    across /= np.linalg.norm(across)
    turned = np.column_stack([across, np.cross(back, across), back, eye])
    return [*(float(x) for x in turned.ravel()), camera.field_of_view]
