"""When a ball first touches a mesh whose corners move evenly, exactly: by the roots of the polynomials of each face,
edge and corner.

A ball of radius r goes along a parabola x(t). It touches the plane of a face where the square of its height over it,
times the square of the face's (doubled) area, is r squared times that; the line of an edge where the square of the
cross product is; a corner where the square of the distance is. The plane's polynomial has degree 8, the line's 6, the
corner's 4 (Ericson, "Real-Time Collision Detection", 2005, chapters 5.3 and 5.5, has the same conditions for what
stands still). Slow: this is the judge of the kernels, not one of them.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.polynomial import Polynomial as P

EDGES = ((0, 1), (1, 2), (2, 0))


def _dot(a: list[P], b: list[P]) -> P:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cross(a: list[P], b: list[P]) -> list[P]:
    return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]


def _minus(a: list[P], b: list[P]) -> list[P]:
    return [a[k] - b[k] for k in range(3)]


def distance(triangles: np.ndarray, place: np.ndarray) -> np.ndarray:
    """Return how far a place is from each of (F, 3, 3) triangles, by its nearest face, edge or corner."""
    a, b, c = (triangles[:, k] for k in range(3))
    normal = np.cross(b - a, c - a)
    size = np.maximum(np.linalg.norm(normal, axis=1), 1e-300)
    inside = np.ones(len(triangles), bool)
    found = np.full(len(triangles), math.inf)
    for i, j in EDGES:
        p, q = triangles[:, i], triangles[:, j]
        inside &= (np.cross(q - p, place - p) * normal).sum(1) >= 0
        along = np.clip(((place - p) * (q - p)).sum(1) / np.maximum(((q - p) ** 2).sum(1), 1e-300), 0, 1)
        found = np.minimum(found, np.linalg.norm(place - p - along[:, None] * (q - p), axis=1))
    return np.where(inside, np.minimum(found, np.abs(((place - a) * normal).sum(1)) / size), found)


def first_touch(
    one: np.ndarray,
    other: np.ndarray,
    place: np.ndarray,
    velocity: np.ndarray,
    push: np.ndarray,
    span: float,
    radius: float,
) -> float:
    """Return after how long, seconds, a ball first touches a mesh; infinity: not within the span. The ball begins away
    from it.

    one, other: (F, 3, 3) corners as the span begins and ends. place, velocity, push: (3,) of the ball's middle, metres
    and seconds.
    """
    x = [P([place[k], velocity[k], push[k] / 2]) for k in range(3)]
    roots: list[float] = []
    for f in range(len(one)):
        corners = [[P([one[f, i, k], (other[f, i, k] - one[f, i, k]) / span]) for k in range(3)] for i in range(3)]
        normal = _cross(_minus(corners[1], corners[0]), _minus(corners[2], corners[0]))
        height = _dot(normal, _minus(x, corners[0]))
        wanted = [height * height - radius**2 * _dot(normal, normal)]
        for i, j in EDGES:
            edge, off = _minus(corners[j], corners[i]), _minus(x, corners[i])
            across = _cross(off, edge)
            wanted += [_dot(across, across) - radius**2 * _dot(edge, edge), _dot(off, off) - P([radius**2])]
        for each in wanted:
            found = each.trim(1e-14 * np.abs(each.coef).max()).roots()
            roots += [float(root.real) for root in found if abs(root.imag) <= 1e-7 * span and 0 <= root.real <= span]
    for t in sorted(roots):
        away = distance(one + (other - one) * (t / span), place + velocity * t + push * t * t / 2).min()
        if away <= radius * (1 + 1e-5) + 1e-9:
            return t
    return math.inf
