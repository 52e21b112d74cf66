"""The rotation of space about displaced particles."""

from __future__ import annotations

import numpy as np
import scipy

ROUNDS = 12  # of Newton's: each doubles the digits that are right
INSIDE_OUT = 1e-9  # a determinant below this is of space that is flat, or turned inside out: it turns nothing


def rotation_parts(gradients: np.ndarray) -> np.ndarray:
    """Return the rotations in deformation gradients, (n, 3, 3), by polar decomposition; identity where space is
    flattened or inverted. Newton's iteration: Higham, "Computing the polar decomposition, with applications", SIAM J.
    Sci. Stat. Comput. 7 (1986)."""
    matrices = np.where((np.linalg.det(gradients) > INSIDE_OUT)[:, None, None], gradients, np.eye(3))
    for _ in range(ROUNDS):
        matrices = (matrices + np.linalg.inv(matrices).transpose(0, 2, 1)) / 2
    return matrices


def turned_by(rotations: np.ndarray, quaternions: np.ndarray) -> np.ndarray:
    """Return quaternions (x, y, z, w), (n, 4), rotated further by rotations (n, 3, 3); each keeps its sign."""
    turned: np.ndarray = (
        scipy.spatial.transform.Rotation.from_matrix(rotations)
        * scipy.spatial.transform.Rotation.from_quat(quaternions)
    ).as_quat()
    return turned * np.where((turned * quaternions).sum(axis=1, keepdims=True) < 0, -1.0, 1.0)
