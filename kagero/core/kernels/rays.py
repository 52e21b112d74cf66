"""Ray intersections with shapes in closed form, float64: distance to the first hit from either side, in lengths of the
direction.

Each function takes origins and directions (n, 3) and returns (n,), infinite where a ray misses. Shapes stand as
`geometry.shapes` builds them: flat ones level about the origin, turned ones about the vertical axis. Quadrics: the
stable form of the quadratic's roots (Press et al., Numerical Recipes, 3rd edition, 5.6). Boxes: slabs (Kay and Kajiya,
"Ray tracing complex scenes", 1986).
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np


def _nearest(*meetings: np.ndarray) -> np.ndarray:
    """Return the smallest distance that is not behind the origin."""
    best = np.full(len(meetings[0]), np.inf)
    for t in meetings:
        best = np.where((t >= 0) & (t < best), t, best)
    return best


def _roots(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the roots of a t^2 + 2 b t + c, NaN where there is none."""
    square = b * b - a * c
    q = -(b + np.copysign(np.sqrt(np.where(square >= 0, square, np.nan)), b))
    return np.where(a != 0, q / np.where(a != 0, a, 1), np.nan), np.where(
        q != 0, c / np.where(q != 0, q, 1), np.where(square >= 0, 0.0, np.nan)
    )


def level(o: np.ndarray, d: np.ndarray, inner: float, outer: float) -> np.ndarray:
    """A horizontal ring about the origin, radii in metres; a disc where inner is 0."""
    with np.errstate(all="ignore"):
        t = -o[:, 1] / d[:, 1]
        away = np.hypot(o[:, 0] + t * d[:, 0], o[:, 2] + t * d[:, 2])
        return _nearest(np.where((away >= inner) & (away <= outer), t, np.nan))


def plane(o: np.ndarray, d: np.ndarray, width: float, depth: float) -> np.ndarray:
    """A horizontal rectangle about the origin."""
    with np.errstate(all="ignore"):
        t = -o[:, 1] / d[:, 1]
        inside = (np.abs(o[:, 0] + t * d[:, 0]) <= width / 2) & (np.abs(o[:, 2] + t * d[:, 2]) <= depth / 2)
        return _nearest(np.where(inside, t, np.nan))


def sphere(o: np.ndarray, d: np.ndarray, radius: float) -> np.ndarray:
    """A sphere about the origin."""
    with np.errstate(all="ignore"):
        one, other = _roots((d * d).sum(1), (o * d).sum(1), (o * o).sum(1) - radius * radius)
        return _nearest(one, other)


def box(o: np.ndarray, d: np.ndarray, width: float, height: float, depth: float) -> np.ndarray:
    """A box about the origin."""
    half = np.array([width, height, depth]) / 2
    with np.errstate(all="ignore"):
        one, other = (-half - o) / d, (half - o) / d
        still = d == 0
        within = np.abs(o) <= half
        near = np.where(still, np.where(within, -np.inf, np.inf), np.minimum(one, other)).max(1)
        far = np.where(still, np.where(within, np.inf, -np.inf), np.maximum(one, other)).min(1)
        hit = near <= far
        return _nearest(np.where(hit, near, np.nan), np.where(hit, far, np.nan))


def lathe(o: np.ndarray, d: np.ndarray, profile: np.ndarray) -> np.ndarray:
    """A profile of (radius, height), (m, 2), revolved about the vertical axis: cones, cylinders and flat rings, open at
    its ends."""
    best = np.full(len(o), np.inf)
    with np.errstate(all="ignore"):
        for (r0, y0), (r1, y1) in pairwise(profile):
            if y0 == y1:
                down = o - [0.0, y0, 0.0]
                best = np.minimum(best, level(down, d, min(r0, r1), max(r0, r1)))
                continue
            k = (r1 - r0) / (y1 - y0)  # the radius at a height is r0 + k (y - y0)
            at, slope = r0 + k * (o[:, 1] - y0), k * d[:, 1]
            a = d[:, 0] ** 2 + d[:, 2] ** 2 - slope * slope
            b = o[:, 0] * d[:, 0] + o[:, 2] * d[:, 2] - at * slope
            c = o[:, 0] ** 2 + o[:, 2] ** 2 - at * at
            meetings = []
            for t in (*_roots(a, b, c), -c / (2 * b)):  # the last: where the ray lies along the cone's side
                y, r = o[:, 1] + t * d[:, 1], at + t * slope
                ends = 1e-12 * max(abs(y0), abs(y1), 1e-12)
                meetings.append(
                    np.where((y >= min(y0, y1) - ends) & (y <= max(y0, y1) + ends) & (r >= -ends), t, np.nan)
                )
            meetings[2] = np.where(a == 0, meetings[2], np.nan)
            best = np.minimum(best, _nearest(*meetings))
    return best
