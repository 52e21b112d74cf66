"""Triangles cut where two sites are as near: each piece is nearest to one site (clipping of convex polygons by half-spaces: Sutherland and Hodgman,
"Reentrant polygon clipping", Communications of the ACM 17, 1974)."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

MOST_CORNERS = 64  # of one piece


def cut_triangles(points: np.ndarray, sites: np.ndarray, first: np.ndarray, near: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the pieces of triangles as triangles: barycentric corners in those they are of, (n, 3, 3); whose, (n,); and of which site each is, (n,).

    points: (F, 3, 3) float64, metres; sites: (S, 3) float64. near: the sites that can have a share of each triangle, those of one from
    first[f] to first[f + 1], (F + 1,) int64.
    """
    room = max(1024, 4 * len(points))
    while True:
        bary, face, site = np.empty((room, 3, 3)), np.empty(room, np.int64), np.empty(room, np.int64)
        count = _cut(points, sites, first, near, bary, face, site)
        if count <= room:
            return bary[:count], face[:count], site[:count]
        room = count


@kernel("int64(float64[:,:,::1], float64[:,::1], int64[::1], int64[::1], float64[:,:,::1], int64[::1], int64[::1])")
def _cut(points, sites, first, near, bary, face, site):
    """Write the pieces of triangles as far as there is room; return how many there are."""
    count = 0
    here, there = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3))
    side = np.empty(MOST_CORNERS)
    for f in range(points.shape[0]):
        for i in range(first[f], first[f + 1]):
            s = near[i]
            n = 3
            here[:3] = 0.0
            here[0, 0], here[1, 1], here[2, 2] = 1.0, 1.0, 1.0
            for j in range(first[f], first[f + 1]):
                o = near[j]
                if o == s:
                    continue
                # nearer to s than to o: linear over the triangle
                value = np.zeros(3)
                for c in range(3):
                    for axis in range(3):
                        middle = 0.5 * (sites[s, axis] + sites[o, axis])
                        value[c] += (points[f, c, axis] - middle) * (sites[s, axis] - sites[o, axis])
                for k in range(n):
                    side[k] = here[k, 0] * value[0] + here[k, 1] * value[1] + here[k, 2] * value[2]
                m = 0
                for k in range(n):
                    on = (k + 1) % n
                    if side[k] >= 0.0 and m < MOST_CORNERS:
                        there[m] = here[k]
                        m += 1
                    if (side[k] >= 0.0) != (side[on] >= 0.0) and m < MOST_CORNERS:
                        t = side[k] / (side[k] - side[on])
                        for c in range(3):
                            there[m, c] = here[k, c] + t * (here[on, c] - here[k, c])
                        m += 1
                here, there = there, here
                n = m
                if n < 3:
                    break
            if n < 3:
                continue
            for k in range(1, n - 1):
                # a sliver without area is none
                area = abs((here[k, 0] - here[0, 0]) * (here[k + 1, 1] - here[0, 1]) - (here[k + 1, 0] - here[0, 0]) * (here[k, 1] - here[0, 1]))
                if area < 1e-12:
                    continue
                if count < bary.shape[0]:
                    bary[count, 0], bary[count, 1], bary[count, 2] = here[0], here[k], here[k + 1]
                    face[count], site[count] = f, s
                count += 1
    return count
