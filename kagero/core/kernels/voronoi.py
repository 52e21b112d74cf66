"""Triangles divided into Voronoi regions of sites, by clipping convex polygons against half-spaces (Sutherland and
Hodgman, "Reentrant polygon clipping", Communications of the ACM 17, 1974)."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

MOST_CORNERS = 64  # of one piece


def cut_triangles(
    points: np.ndarray, sites: np.ndarray, first: np.ndarray, near: np.ndarray, about: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the pieces of triangles as triangles: barycentric corners in the original triangle, (n, 3, 3), the
    original triangle, (n,), and the site, (n,).

    points: (F, 3, 3) float64, metres. sites: (S, 3) float64. near[first[f]:first[f + 1]]: the sites that can own a part
    of triangle f; first: (F + 1,) int64. about: (S, K) int64, the nearest sites of each site by distance; a piece is
    finished as soon as the next site is more than twice as far away as the piece's furthest corner.
    """
    room = max(1024, 4 * len(points))
    while True:
        bary, face, site = np.empty((room, 3, 3)), np.empty(room, np.int64), np.empty(room, np.int64)
        count = _cut(points, sites, first, near, about, bary, face, site)
        if count <= room:
            return bary[:count], face[:count], site[:count]
        room = count


@kernel(
    "int64(float64[:,:,::1], float64[:,::1], int64[::1], int64[::1], int64[:,::1], float64[:,:,::1], int64[::1], "
    "int64[::1])"
)
def _cut(points, sites, first, near, about, bary, face, site):
    """Write the pieces of triangles while there is room; return their number."""
    count, known = 0, about.shape[1]
    here, there = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3))
    side = np.empty(MOST_CORNERS)
    for f in range(points.shape[0]):
        for i in range(first[f], first[f + 1]):
            s = near[i]
            n = 3
            here[:3] = 0.0
            here[0, 0], here[1, 1], here[2, 2] = 1.0, 1.0, 1.0
            reach = np.inf  # squared: of the furthest corner from s; of another place where it is not known yet
            for j in range(known + first[f + 1] - first[f]):
                o = about[s, j] if j < known else near[first[f] + j - known]
                if o == s:
                    continue
                away = (
                    (sites[o, 0] - sites[s, 0]) ** 2
                    + (sites[o, 1] - sites[s, 1]) ** 2
                    + (sites[o, 2] - sites[s, 2]) ** 2
                )
                if reach == np.inf:
                    reach = 0.0
                    for k in range(n):
                        gone = 0.0
                        for axis in range(3):
                            at = (
                                here[k, 0] * points[f, 0, axis]
                                + here[k, 1] * points[f, 1, axis]
                                + here[k, 2] * points[f, 2, axis]
                            )
                            gone += (at - sites[s, axis]) ** 2
                        reach = max(reach, gone)
                if away > 4.0 * reach * (1.0 + 1e-9):
                    if j < known:
                        break  # all that follow are further away
                    continue
                # nearer to s than to o: linear over the triangle
                value = np.zeros(3)
                for c in range(3):
                    for axis in range(3):
                        middle = 0.5 * (sites[s, axis] + sites[o, axis])
                        value[c] += (points[f, c, axis] - middle) * (sites[s, axis] - sites[o, axis])
                for k in range(n):
                    side[k] = here[k, 0] * value[0] + here[k, 1] * value[1] + here[k, 2] * value[2]
                m, cut = 0, False
                for k in range(n):
                    on = (k + 1) % n
                    if side[k] >= 0.0 and m < MOST_CORNERS:
                        there[m] = here[k]
                        m += 1
                    if (side[k] >= 0.0) != (side[on] >= 0.0) and m < MOST_CORNERS:
                        cut = True
                        t = side[k] / (side[k] - side[on])
                        for c in range(3):
                            there[m, c] = here[k, c] + t * (here[on, c] - here[k, c])
                        m += 1
                here, there = there, here
                n = m
                if n < 3:
                    break
                if cut:
                    reach = np.inf
            if n < 3:
                continue
            for k in range(1, n - 1):
                # a sliver without area is none
                area = abs(
                    (here[k, 0] - here[0, 0]) * (here[k + 1, 1] - here[0, 1])
                    - (here[k + 1, 0] - here[0, 0]) * (here[k, 1] - here[0, 1])
                )
                if area < 1e-12:
                    continue
                if count < bary.shape[0]:
                    bary[count, 0], bary[count, 1], bary[count, 2] = here[0], here[k], here[k + 1]
                    face[count], site[count] = f, s
                count += 1
    return count


@kernel("int64[::1](float64[:,::1], int64[::1])")
def furthest_first(places, first):
    """Return for each group of points the one furthest from those chosen from earlier groups, (G,). places: (n, 3);
    first: (G + 1,), where each group begins, and the end."""
    groups = first.shape[0] - 1
    taken = np.empty(groups, np.int64)
    near = np.full(places.shape[0], np.inf)
    for g in range(groups):
        pick = first[g]
        for i in range(first[g], first[g + 1]):
            if near[i] > near[pick]:
                pick = i
        taken[g] = pick
        for i in range(first[g + 1], places.shape[0]):
            away = (
                (places[i, 0] - places[pick, 0]) ** 2
                + (places[i, 1] - places[pick, 1]) ** 2
                + (places[i, 2] - places[pick, 2]) ** 2
            )
            near[i] = min(near[i], away)
    return taken
