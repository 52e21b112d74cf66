"""A bounding volume hierarchy over triangles: closest points, ray hits and winding numbers of many points at once.

Built over triangle centres by the surface area heuristic in 16 bins (Wald, "On fast construction of SAH-based bounding
volume hierarchies", 2007). All arithmetic is float64. Among equally near triangles the one with the smallest index is
taken, so that results depend on the input alone.
"""

from __future__ import annotations

import math

import numpy as np

from .compiled import kernel

BINS, LEAF, DEPTH, DEEP = 16, 4, 96, 56
FOUR_PI = 4 * math.pi


@kernel()
def build(corners: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return (boxes, links, order) of a tree over triangles, (F, 3, 3) float64.

    boxes: (N, 6), lowest then highest corner. links: (N, 2) int32, an inner node's two children, or a leaf's -1 - start
    and its number of triangles. order: (F,) int32, triangle indices in the order of the leaves.
    """
    count = corners.shape[0]
    centres = np.empty((count, 3))
    for f in range(count):
        for k in range(3):
            centres[f, k] = (corners[f, 0, k] + corners[f, 1, k] + corners[f, 2, k]) / 3
    order = np.arange(count).astype(np.int32)
    boxes = np.empty((max(1, 2 * count), 6))
    links = np.zeros((max(1, 2 * count), 2), np.int32)
    stack = np.empty((DEPTH + 2, 4), np.int64)
    nodes, top = 1, 1
    stack[0] = (0, 0, count, 0)
    counts = np.empty(BINS, np.int64)
    bounds = np.empty((BINS, 6))
    right_area = np.empty(BINS)
    while top > 0:
        top -= 1
        node, start, stop, depth = stack[top]
        low, high = np.full(3, np.inf), np.full(3, -np.inf)
        c_low, c_high = np.full(3, np.inf), np.full(3, -np.inf)
        for i in range(start, stop):
            f = order[i]
            for k in range(3):
                for c in range(3):
                    low[k] = min(low[k], corners[f, c, k])
                    high[k] = max(high[k], corners[f, c, k])
                c_low[k] = min(c_low[k], centres[f, k])
                c_high[k] = max(c_high[k], centres[f, k])
        boxes[node, :3], boxes[node, 3:] = low, high
        extent = c_high - c_low
        axis = int(np.argmax(extent))
        if stop - start <= LEAF or not extent[axis] > 0:
            links[node, 0], links[node, 1] = -1 - start, stop - start
            continue
        scale = BINS * (1 - 1e-9) / extent[axis]
        counts[:] = 0
        bounds[:, :3], bounds[:, 3:] = np.inf, -np.inf
        for i in range(start, stop):
            f = order[i]
            b = int((centres[f, axis] - c_low[axis]) * scale)
            counts[b] += 1
            for c in range(3):
                for k in range(3):
                    bounds[b, k] = min(bounds[b, k], corners[f, c, k])
                    bounds[b, 3 + k] = max(bounds[b, 3 + k], corners[f, c, k])
        box = np.empty(6)
        box[:3], box[3:] = np.inf, -np.inf
        behind = 0
        for b in range(BINS - 1, 0, -1):
            behind += counts[b]
            for k in range(3):
                box[k], box[3 + k] = min(box[k], bounds[b, k]), max(box[3 + k], bounds[b, 3 + k])
            right_area[b] = _area(box) * behind if behind else 0.0
        box[:3], box[3:] = np.inf, -np.inf
        before, best, cut = 0, np.inf, -1
        for b in range(BINS - 1):
            before += counts[b]
            for k in range(3):
                box[k], box[3 + k] = min(box[k], bounds[b, k]), max(box[3 + k], bounds[b, 3 + k])
            if before and before < stop - start:
                cost = _area(box) * before + right_area[b + 1]
                if cost < best:
                    best, cut = cost, b
        middle = start
        for i in range(start, stop):
            f = order[i]
            if int((centres[f, axis] - c_low[axis]) * scale) <= cut:
                order[i], order[middle] = order[middle], f
                middle += 1
        if depth > DEEP or middle in (start, stop):  # triangles laid out to make it deep: halve them
            middle = (start + stop) // 2
        links[node, 0], links[node, 1] = nodes, nodes + 1
        stack[top] = (nodes, start, middle, depth + 1)
        stack[top + 1] = (nodes + 1, middle, stop, depth + 1)
        nodes, top = nodes + 2, top + 2
    return boxes[:nodes].copy(), links[:nodes].copy(), order


@kernel()
def _area(box: np.ndarray) -> float:
    x, y, z = box[3] - box[0], box[4] - box[1], box[5] - box[2]
    return x * y + y * z + z * x


@kernel()
def refit(boxes: np.ndarray, links: np.ndarray, order: np.ndarray, corners: np.ndarray) -> None:
    """Fit a tree's boxes to its triangles after they moved, in place. Children stand behind their parents in the
    arrays."""
    for node in range(len(links) - 1, -1, -1):
        a, b = links[node]
        if a < 0:
            boxes[node, :3], boxes[node, 3:] = np.inf, -np.inf
            for i in range(-1 - a, -1 - a + b):
                for c in range(3):
                    for k in range(3):
                        boxes[node, k] = min(boxes[node, k], corners[order[i], c, k])
                        boxes[node, 3 + k] = max(boxes[node, 3 + k], corners[order[i], c, k])
        else:
            for k in range(3):
                boxes[node, k] = min(boxes[a, k], boxes[b, k])
                boxes[node, 3 + k] = max(boxes[a, 3 + k], boxes[b, 3 + k])


@kernel()
def _box_distance(box: np.ndarray, x: float, y: float, z: float) -> float:
    dx = max(box[0] - x, 0.0, x - box[3])
    dy = max(box[1] - y, 0.0, y - box[4])
    dz = max(box[2] - z, 0.0, z - box[5])
    return dx * dx + dy * dy + dz * dz


@kernel()
def _nearest_on(t: np.ndarray, x: float, y: float, z: float) -> tuple[float, float, float]:
    """Return barycentric coordinates of the triangle's point nearest to (x, y, z) (Ericson, Real-Time Collision
    Detection, 2005, 5.1.5)."""
    ax, ay, az = t[0, 0], t[0, 1], t[0, 2]
    bx, by, bz = t[1, 0] - ax, t[1, 1] - ay, t[1, 2] - az
    cx, cy, cz = t[2, 0] - ax, t[2, 1] - ay, t[2, 2] - az
    px, py, pz = x - ax, y - ay, z - az
    d1, d2 = bx * px + by * py + bz * pz, cx * px + cy * py + cz * pz
    if d1 <= 0 and d2 <= 0:
        return 1.0, 0.0, 0.0
    bb, bc, cc = bx * bx + by * by + bz * bz, bx * cx + by * cy + bz * cz, cx * cx + cy * cy + cz * cz
    d3, d4 = d1 - bb, d2 - bc
    if d3 >= 0 and d4 <= d3:
        return 0.0, 1.0, 0.0
    vc = d1 * d4 - d3 * d2
    if vc <= 0 and d1 >= 0 and d3 <= 0:
        v = d1 / (d1 - d3) if d1 != d3 else 0.0
        return 1 - v, v, 0.0
    d5, d6 = d1 - bc, d2 - cc
    if d6 >= 0 and d5 <= d6:
        return 0.0, 0.0, 1.0
    vb = d5 * d2 - d1 * d6
    if vb <= 0 and d2 >= 0 and d6 <= 0:
        w = d2 / (d2 - d6) if d2 != d6 else 0.0
        return 1 - w, 0.0, w
    va = d3 * d6 - d5 * d4
    if va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        whole = (d4 - d3) + (d5 - d6)
        w = (d4 - d3) / whole if whole > 0 else 0.0
        return 0.0, 1 - w, w
    whole = va + vb + vc
    if not whole > 0:
        return 1.0, 0.0, 0.0
    return va / whole, vb / whole, vc / whole


@kernel()
def closest(
    boxes: np.ndarray,
    links: np.ndarray,
    order: np.ndarray,
    corners: np.ndarray,
    points: np.ndarray,
    faces: np.ndarray,
    places: np.ndarray,
    distances: np.ndarray,
) -> None:
    """Find the nearest triangle to each of the points (n, 3), metres; write faces (n,), barycentric coordinates places
    (n, 3), and distances (n,), metres."""
    stack = np.empty(DEPTH, np.int32)
    near = np.empty(DEPTH)
    for i in range(len(points)):
        x, y, z = points[i, 0], points[i, 1], points[i, 2]
        best, face = np.inf, -1
        a, b, c = 0.0, 0.0, 0.0
        stack[0], near[0], top = 0, _box_distance(boxes[0], x, y, z), 1
        while top > 0:
            top -= 1
            if near[top] > best:
                continue
            node = stack[top]
            left, right = links[node]
            if left < 0:
                for j in range(-1 - left, -1 - left + right):
                    f = order[j]
                    t = corners[f]
                    u, v, w = _nearest_on(t, x, y, z)
                    dx = u * t[0, 0] + v * t[1, 0] + w * t[2, 0] - x
                    dy = u * t[0, 1] + v * t[1, 1] + w * t[2, 1] - y
                    dz = u * t[0, 2] + v * t[1, 2] + w * t[2, 2] - z
                    away = dx * dx + dy * dy + dz * dz
                    if away < best or (away == best and f < face):
                        best, face, a, b, c = away, f, u, v, w
                continue
            l_far = _box_distance(boxes[left], x, y, z)
            r_far = _box_distance(boxes[right], x, y, z)
            if l_far <= r_far:
                left, right, l_far, r_far = right, left, r_far, l_far
            stack[top], near[top] = left, l_far
            stack[top + 1], near[top + 1] = right, r_far
            top += 2
        faces[i] = face
        places[i, 0], places[i, 1], places[i, 2] = a, b, c
        distances[i] = math.sqrt(best)


@kernel()
def cast(
    boxes: np.ndarray,
    links: np.ndarray,
    order: np.ndarray,
    corners: np.ndarray,
    origins: np.ndarray,
    directions: np.ndarray,
    faces: np.ndarray,
    places: np.ndarray,
    reaches: np.ndarray,
) -> None:
    """Find the first triangle that each ray hits, from either side; write faces (n,), -1 for none, barycentric
    coordinates places (n, 3), and reaches (n,) in lengths of the direction, infinite for none.

    Woop, Benthin and Wald, "Watertight ray/triangle intersection", JCGT 2 (2013). Its fallback to double precision is
    not needed, since everything is float64: a ray that meets an edge or corner exactly hits one of the triangles there.
    """
    stack = np.empty(DEPTH, np.int32)
    inverse = np.empty(3)
    for i in range(len(origins)):
        o, d = origins[i], directions[i]
        best, face = np.inf, -1
        a, b = 0.0, 0.0
        for k in range(3):
            inverse[k] = 1 / d[k] if d[k] != 0 else np.inf
        kz = 0
        for k in range(1, 3):
            if abs(d[k]) > abs(d[kz]):
                kz = k
        kx, ky = (kz + 1) % 3, (kz + 2) % 3
        if d[kz] != 0:
            sx, sy, sz = d[kx] / d[kz], d[ky] / d[kz], 1 / d[kz]
        else:
            sx, sy, sz = 0.0, 0.0, 0.0
        stack[0], top = 0, 1 if d[kz] != 0 else 0
        while top > 0:
            top -= 1
            node = stack[top]
            if not _meets(boxes[node], o, d, inverse, best):
                continue
            left, right = links[node]
            if left >= 0:
                stack[top], stack[top + 1] = left, right
                top += 2
                continue
            for j in range(-1 - left, -1 - left + right):
                f = order[j]
                t = corners[f]
                az, bz, cz = t[0, kz] - o[kz], t[1, kz] - o[kz], t[2, kz] - o[kz]
                ax, ay = (t[0, kx] - o[kx]) - sx * az, (t[0, ky] - o[ky]) - sy * az
                bx, by = (t[1, kx] - o[kx]) - sx * bz, (t[1, ky] - o[ky]) - sy * bz
                cx, cy = (t[2, kx] - o[kx]) - sx * cz, (t[2, ky] - o[ky]) - sy * cz
                # each edge is the same number for both triangles that share it, but for its sign: no ray goes between
                # them
                u, v, w = cx * by - cy * bx, ax * cy - ay * cx, bx * ay - by * ax
                if (u < 0 or v < 0 or w < 0) and (u > 0 or v > 0 or w > 0):
                    continue
                det = u + v + w
                if det == 0:
                    continue
                reach = sz * (u * az + v * bz + w * cz) / det
                if reach >= 0 and (reach < best or (reach == best and f < face)):
                    best, face, a, b = reach, f, v / det, w / det
        faces[i] = face
        places[i, 0], places[i, 1], places[i, 2] = 1 - a - b, a, b
        reaches[i] = best


@kernel()
def _meets(box: np.ndarray, o: np.ndarray, d: np.ndarray, inverse: np.ndarray, best: float) -> bool:
    near, far = 0.0, best
    for k in range(3):
        if d[k] == 0:
            if o[k] < box[k] or o[k] > box[3 + k]:
                return False
            continue
        one, other = (box[k] - o[k]) * inverse[k], (box[3 + k] - o[k]) * inverse[k]
        if one > other:
            one, other = other, one
        # widened by what rounding may have taken (Ize, "Robust BVH ray traversal", JCGT 2, 2013)
        near = max(near, one - abs(one) * 8e-16)
        far = min(far, other + abs(other) * 8e-16 + 1e-300)
        if near > far:
            return False
    return True


@kernel()
def dipoles(boxes: np.ndarray, links: np.ndarray, order: np.ndarray, corners: np.ndarray) -> np.ndarray:
    """Return (N, 7) of a tree's nodes: the sum of the triangles' area vectors, their centre weighted by area, and the
    radius about it."""
    moments = np.zeros((len(links), 7))
    weight = np.zeros(len(links))
    for node in range(len(links) - 1, -1, -1):
        a, b = links[node]
        if a < 0:
            for i in range(-1 - a, -1 - a + b):
                t = corners[order[i]]
                e1, e2 = t[1] - t[0], t[2] - t[0]
                n0 = (e1[1] * e2[2] - e1[2] * e2[1]) / 2
                n1 = (e1[2] * e2[0] - e1[0] * e2[2]) / 2
                n2 = (e1[0] * e2[1] - e1[1] * e2[0]) / 2
                area = math.sqrt(n0 * n0 + n1 * n1 + n2 * n2)
                moments[node, 0] += n0
                moments[node, 1] += n1
                moments[node, 2] += n2
                for k in range(3):
                    moments[node, 3 + k] += area * (t[0, k] + t[1, k] + t[2, k]) / 3
                weight[node] += area
        else:
            for k in range(3):
                moments[node, k] = moments[a, k] + moments[b, k]
                moments[node, 3 + k] = moments[a, 3 + k] * weight[a] + moments[b, 3 + k] * weight[b]
            weight[node] = weight[a] + weight[b]
        if weight[node] > 0:
            for k in range(3):
                moments[node, 3 + k] /= weight[node]
        else:
            for k in range(3):
                moments[node, 3 + k] = (boxes[node, k] + boxes[node, 3 + k]) / 2
        away = 0.0
        for k in range(3):
            far = max(boxes[node, 3 + k] - moments[node, 3 + k], moments[node, 3 + k] - boxes[node, k])
            away += far * far
        moments[node, 6] = math.sqrt(away)
    return moments


@kernel()
def winding(
    links: np.ndarray, order: np.ndarray, corners: np.ndarray, far: np.ndarray, points: np.ndarray, out: np.ndarray
) -> None:
    """Write the winding number of each point: 1 inside a closed mesh, 0 outside, between where the mesh is open.

    Near triangles by their solid angle (Van Oosterom and Strackee 1983); nodes further away than three radii as dipoles
    (Barill et al., "Fast winding numbers for soups and clouds", 2018). Accurate to a few thousandths.
    """
    stack = np.empty(DEPTH, np.int32)
    for i in range(len(points)):
        p = points[i]
        total = 0.0
        stack[0], top = 0, 1
        while top > 0:
            top -= 1
            node = stack[top]
            rx, ry, rz = far[node, 3] - p[0], far[node, 4] - p[1], far[node, 5] - p[2]
            square = rx * rx + ry * ry + rz * rz
            if square > 9 * far[node, 6] * far[node, 6]:
                total += (far[node, 0] * rx + far[node, 1] * ry + far[node, 2] * rz) / (
                    FOUR_PI * square * math.sqrt(square)
                )
                continue
            left, right = links[node]
            if left >= 0:
                stack[top], stack[top + 1] = left, right
                top += 2
                continue
            for j in range(-1 - left, -1 - left + right):
                t = corners[order[j]]
                ax, ay, az = t[0, 0] - p[0], t[0, 1] - p[1], t[0, 2] - p[2]
                bx, by, bz = t[1, 0] - p[0], t[1, 1] - p[1], t[1, 2] - p[2]
                cx, cy, cz = t[2, 0] - p[0], t[2, 1] - p[1], t[2, 2] - p[2]
                la, lb = math.sqrt(ax * ax + ay * ay + az * az), math.sqrt(bx * bx + by * by + bz * bz)
                lc = math.sqrt(cx * cx + cy * cy + cz * cz)
                up = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
                ab, bc, ca = ax * bx + ay * by + az * bz, bx * cx + by * cy + bz * cz, cx * ax + cy * ay + cz * az
                down = la * lb * lc + ab * lc + bc * la + ca * lb
                total += 2 * math.atan2(up, down) / FOUR_PI
        out[i] = total
