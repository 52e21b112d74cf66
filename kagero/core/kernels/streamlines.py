"""Streamlines of a plane field, traced in equal lengths."""

from __future__ import annotations

import numpy as np

from .compiled import kernel


@kernel()
def trace(field, seeds, sign, step, faint, course, length):
    """Trace a line from each seed, by the fourth-order Runge-Kutta method.

    course: (n, most + 1, 2), the points, seed first; length: (n,), their number. field: (rows, columns, 2) float64,
    along columns and rows, bilinear. seeds (n, 2): column and row. sign: 1 along the field, -1 against it. step: in
    cells. A line ends where it leaves the field, where the field is weaker than `faint`, where it turns back, and where
    it has closed.
    """
    wide, high = field.shape[1] - 1.0, field.shape[0] - 1.0
    for k in range(seeds.shape[0]):
        x, y = seeds[k, 0], seeds[k, 1]
        course[k, 0, 0], course[k, 0, 1] = x, y
        n = 1
        bx, by = 0.0, 0.0
        while n < course.shape[1]:
            ax, ay, strength = _direction(field, x, y, sign)
            cx, cy, _ = _direction(field, x + step / 2 * ax, y + step / 2 * ay, sign)
            dx, dy, _ = _direction(field, x + step / 2 * cx, y + step / 2 * cy, sign)
            ex, ey, _ = _direction(field, x + step * dx, y + step * dy, sign)
            tx, ty = x + step / 6 * (ax + 2 * cx + 2 * dx + ex), y + step / 6 * (ay + 2 * cy + 2 * dy + ey)
            # where all runs together a line would only go to and fro
            turns = ax * cx + ay * cy <= 0 or ax * ex + ay * ey <= 0 or ax * bx + ay * by < -0.5
            if strength <= faint or turns or tx < 0 or ty < 0 or tx > wide or ty > high:
                break
            x, y, bx, by = tx, ty, ax, ay
            course[k, n, 0], course[k, n, 1] = x, y
            n += 1
            if n > 5 and (x - seeds[k, 0]) ** 2 + (y - seeds[k, 1]) ** 2 < step * step / 3:
                break
        length[k] = n


@kernel(_nrt=False)
def _direction(field, x, y, sign):
    """Return the unit vector of a field at a point, and the field's magnitude there."""
    i = min(max(int(np.floor(x)), 0), field.shape[1] - 2)
    j = min(max(int(np.floor(y)), 0), field.shape[0] - 2)
    s, t = min(max(x - i, 0.0), 1.0), min(max(y - j, 0.0), 1.0)
    u = (field[j, i, 0] * (1 - s) + field[j, i + 1, 0] * s) * (1 - t) + (
        field[j + 1, i, 0] * (1 - s) + field[j + 1, i + 1, 0] * s
    ) * t
    v = (field[j, i, 1] * (1 - s) + field[j, i + 1, 1] * s) * (1 - t) + (
        field[j + 1, i, 1] * (1 - s) + field[j + 1, i + 1, 1] * s
    ) * t
    strength = np.sqrt(u * u + v * v)
    by = sign / max(strength, 1e-300)
    return u * by, v * by, strength
