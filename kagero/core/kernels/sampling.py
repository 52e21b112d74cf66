"""Directions and points from uniform numbers, uniform by solid angle and by area."""

from __future__ import annotations

import numpy as np


def cone_direction(
    axis: tuple[np.ndarray, np.ndarray, np.ndarray], half_angle: np.ndarray, u: np.ndarray, v: np.ndarray
) -> tuple[np.ndarray, ...]:
    """Return unit vectors, uniform over the cap of half_angle (radians, 0 to pi) about an axis of any length.

    u, v: uniform in [0, 1). An axis of length zero counts as up. Frame about the axis: Duff et al., "Building an
    orthonormal basis, revisited", JCGT 6 (2017).
    """
    one = np.float32(1)
    ax, ay, az = axis
    length = np.sqrt(ax * ax + ay * ay + az * az)
    nothing = length < np.float32(1e-12)
    safe = np.where(nothing, one, length)
    nx, ny, nz = ax / safe, np.where(nothing, one, ay / safe), az / safe
    cosine = one - u * (one - np.cos(half_angle))
    sine = np.sqrt(np.maximum(one - cosine * cosine, np.float32(0)))
    turn = v * np.float32(2 * np.pi)
    a, b = sine * np.cos(turn), sine * np.sin(turn)
    sign = np.copysign(one, nz)
    k = -one / (sign + nz)
    m = nx * ny * k
    return (
        (a * (one + sign * nx * nx * k) + b * m + cosine * nx).astype(np.float32),
        (a * (sign * m) + b * (sign + ny * ny * k) + cosine * ny).astype(np.float32),
        (a * (-sign * nx) + b * (-ny) + cosine * nz).astype(np.float32),
    )


def box_surface(
    size: tuple[np.ndarray, np.ndarray, np.ndarray], face: np.ndarray, u: np.ndarray, v: np.ndarray
) -> tuple[np.ndarray, ...]:
    """Return offsets from a box's centre to points uniform over its six faces by area, and the faces' outward normals.

    face, u, v: uniform in [0, 1).
    """
    sx, sy, sz = (np.abs(s) for s in size)
    area_x, area_y, area_z = sy * sz, sz * sx, sx * sy
    total = area_x + area_y + area_z
    pick = face * np.where(total > 0, total, np.float32(1))
    on_x, on_y = pick < area_x, (pick >= area_x) & (pick < area_x + area_y)
    start = np.where(on_x, np.float32(0), np.where(on_y, area_x, area_x + area_y))
    area = np.where(on_x, area_x, np.where(on_y, area_y, area_z))
    within = (pick - start) / np.where(area > 0, area, np.float32(1))
    side = np.where(within < np.float32(0.5), np.float32(-0.5), np.float32(0.5))
    a, b = u - np.float32(0.5), v - np.float32(0.5)
    return (
        (sx * np.where(on_x, side, a)).astype(np.float32),
        (sy * np.where(on_x, a, np.where(on_y, side, b))).astype(np.float32),
        (sz * np.where(on_x | on_y, b, side)).astype(np.float32),
        np.where(on_x, 2 * side, np.float32(0)).astype(np.float32),
        np.where(on_y, 2 * side, np.float32(0)).astype(np.float32),
        np.where(on_x | on_y, np.float32(0), 2 * side).astype(np.float32),
    )
