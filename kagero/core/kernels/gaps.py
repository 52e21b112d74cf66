"""How far particles are from what they may meet: shapes in closed form, and meshes whose triangles move within a step."""

from __future__ import annotations

import math
from typing import Any

from .bvh import _box_distance, _nearest_on
from .compiled import kernel

_UNCOUNTED: Any = {"error_model": "numpy", "_nrt": False}
PLANE, BALL, BOX, ROD, MESH = range(5)


@kernel(**_UNCOUNTED)
def shape_gap(kind, side, p, x, y, z):
    """Return how far a place is from a shape in its own space, metres, less than nought on its other side, and which way is off it."""
    if kind == PLANE:
        nx, ny, nz = p[3], p[4], p[5]
        size = math.sqrt(nx * nx + ny * ny + nz * nz)
        if size > 0.0:
            nx, ny, nz = nx / size, ny / size, nz / size
        else:
            nx, ny, nz = 0.0, 1.0, 0.0
        return (x - p[0]) * nx + (y - p[1]) * ny + (z - p[2]) * nz, nx, ny, nz
    x, y, z = x - p[0], y - p[1], z - p[2]
    if kind == BALL:
        away = math.sqrt(x * x + y * y + z * z)
        if away > 1e-12:
            nx, ny, nz = x / away, y / away, z / away
        else:
            nx, ny, nz = 0.0, 1.0, 0.0
        away -= p[3]
    elif kind == BOX:
        qx, qy, qz = abs(x) - p[3] / 2, abs(y) - p[4] / 2, abs(z) - p[5] / 2
        sx, sy, sz = math.copysign(1.0, x), math.copysign(1.0, y), math.copysign(1.0, z)
        ox, oy, oz = max(qx, 0.0), max(qy, 0.0), max(qz, 0.0)
        out = math.sqrt(ox * ox + oy * oy + oz * oz)
        if out > 0.0:
            away, nx, ny, nz = out, sx * ox / out, sy * oy / out, sz * oz / out
        elif qx >= qy and qx >= qz:
            away, nx, ny, nz = qx, sx, 0.0, 0.0
        elif qy >= qz:
            away, nx, ny, nz = qy, 0.0, sy, 0.0
        else:
            away, nx, ny, nz = qz, 0.0, 0.0, sz
    else:
        r = math.sqrt(x * x + z * z)
        qr, qy, sy = r - p[3], abs(y) - p[4] / 2, math.copysign(1.0, y)
        rx, rz = (x / r, z / r) if r > 1e-12 else (1.0, 0.0)
        o, oy = max(qr, 0.0), max(qy, 0.0)
        out = math.sqrt(o * o + oy * oy)
        if out > 0.0:
            away, nx, ny, nz = out, rx * o / out, sy * oy / out, rz * o / out
        elif qr >= qy:
            away, nx, ny, nz = qr, rx, 0.0, rz
        else:
            away, nx, ny, nz = qy, 0.0, sy, 0.0
    return side * away, side * nx, side * ny, side * nz


@kernel(**_UNCOUNTED)
def _corner(one, other, f, k, tau, out):
    for a in range(3):
        out[k, a] = one[f, k, a] + (other[f, k, a] - one[f, k, a]) * tau


@kernel(**_UNCOUNTED)
def _closest(boxes, links, order, one, other, root, tau, x, y, z, reach, stack, near, t):
    """Return the nearest triangle of a moving mesh within a reach (-1: none), its point and shares of its corners, and how far away it is."""
    best, face, b0, b1, b2, px, py, pz = reach * reach, -1, 1.0, 0.0, 0.0, 0.0, 0.0, 0.0
    stack[0], near[0], top = root, _box_distance(boxes[root], x, y, z), 1
    while top > 0:
        top -= 1
        if near[top] > best:
            continue
        node = stack[top]
        left, right = links[node, 0], links[node, 1]
        if left < 0:
            for j in range(-1 - left, -1 - left + right):
                f = order[j]
                for k in range(3):
                    _corner(one, other, f, k, tau, t)
                u, v, w = _nearest_on(t, x, y, z)
                qx = u * t[0, 0] + v * t[1, 0] + w * t[2, 0]
                qy = u * t[0, 1] + v * t[1, 1] + w * t[2, 1]
                qz = u * t[0, 2] + v * t[1, 2] + w * t[2, 2]
                away = (qx - x) ** 2 + (qy - y) ** 2 + (qz - z) ** 2
                if away < best or (away == best and f < face):
                    best, face, b0, b1, b2, px, py, pz = away, f, u, v, w, qx, qy, qz
            continue
        l_far, r_far = _box_distance(boxes[left], x, y, z), _box_distance(boxes[right], x, y, z)
        if l_far <= r_far:
            left, right, l_far, r_far = right, left, r_far, l_far
        stack[top], near[top] = left, l_far
        stack[top + 1], near[top + 1] = right, r_far
        top += 2
    return face, b0, b1, b2, px, py, pz, math.sqrt(best)


@kernel(**_UNCOUNTED)
def _height(one, other, f, tau, x, y, z, t):
    """Return six times the signed volume over a triangle, and the shares of its corners below the place, before they are divided by their sum."""
    for k in range(3):
        _corner(one, other, f, k, tau, t)
    ax, ay, az = t[0, 0] - x, t[0, 1] - y, t[0, 2] - z
    bx, by, bz = t[1, 0] - x, t[1, 1] - y, t[1, 2] - z
    cx, cy, cz = t[2, 0] - x, t[2, 1] - y, t[2, 2] - z
    return ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)


@kernel(**_UNCOUNTED)
def _inside(t, x, y, z):
    """Return whether a place on a triangle's plane lies on it, an edge shared with whoever is beside it."""
    ux, uy, uz = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
    vx, vy, vz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
    wx, wy, wz = x - t[0, 0], y - t[0, 1], z - t[0, 2]
    uu, uv, vv = ux * ux + uy * uy + uz * uz, ux * vx + uy * vy + uz * vz, vx * vx + vy * vy + vz * vz
    wu, wv = wx * ux + wy * uy + wz * uz, wx * vx + wy * vy + wz * vz
    whole = uu * vv - uv * uv
    if not whole > 0.0:
        return False
    s, r = (vv * wu - uv * wv) / whole, (uu * wv - uv * wu) / whole
    return s >= -1e-7 and r >= -1e-7 and s + r <= 1.0 + 1e-7


@kernel(**_UNCOUNTED)
def _crossed(world, root, way, since, until, start, length, wide, room):
    """Return when a way first goes through a triangle of a moving mesh between two moments, seconds of the step; infinity: through none.

    way: place, velocity, acceleration at `since`, (9,). start, length: of the particle's own step and of the whole one: where the mesh is.
    wide: how far from the straight line between its ends it goes, metres.
    """
    _, _, _, boxes, links, order, one, other = world
    stack, t = room[0], room[2]
    ax, ay, az = way[0], way[1], way[2]
    h = until - since
    bx = ax + way[3] * h + way[6] * h * h / 2
    by = ay + way[4] * h + way[7] * h * h / 2
    bz = az + way[5] * h + way[8] * h * h / 2
    dx, dy, dz = bx - ax, by - ay, bz - az
    best = math.inf
    stack[0], top = root, 1
    tau0, tau1 = (start + since) / length, (start + until) / length
    while top > 0:
        top -= 1
        node = stack[top]
        box = boxes[node]
        near, far = 0.0, 1.0
        for k in range(3):
            o, d = (ax, dx) if k == 0 else ((ay, dy) if k == 1 else (az, dz))
            low, high = box[k] - wide, box[3 + k] + wide
            if abs(d) < 1e-30:
                if o < low or o > high:
                    near = 2.0
                continue
            p, q = (low - o) / d, (high - o) / d
            if p > q:
                p, q = q, p
            near, far = max(near, p), min(far, q)
        if near > far + 1e-9:
            continue
        left, right = links[node, 0], links[node, 1]
        if left >= 0:
            stack[top], stack[top + 1] = left, right
            top += 2
            continue
        for j in range(-1 - left, -1 - left + right):
            f = order[j]
            lo, hi = since, until
            h_lo = _height(one, other, f, tau0, ax, ay, az, t)
            h_hi = _height(one, other, f, tau1, bx, by, bz, t)
            if h_lo == 0.0 or h_lo * h_hi > 0.0:
                continue
            last = 0
            for _ in range(60):
                mid = (lo * h_hi - hi * h_lo) / (h_hi - h_lo)
                if not lo < mid < hi:
                    mid = (lo + hi) / 2
                s = mid - since
                x = ax + way[3] * s + way[6] * s * s / 2
                y = ay + way[4] * s + way[7] * s * s / 2
                z = az + way[5] * s + way[8] * s * s / 2
                value = _height(one, other, f, (start + mid) / length, x, y, z, t)
                if value == 0.0 or hi - lo < 1e-12 * length:
                    lo = mid
                    break
                if value * h_lo > 0.0:
                    lo, h_lo = mid, value
                    h_hi = h_hi / 2 if last == 1 else h_hi
                    last = 1
                else:
                    hi, h_hi = mid, value
                    h_lo = h_lo / 2 if last == -1 else h_lo
                    last = -1
            if lo < best:
                s = lo - since
                x = ax + way[3] * s + way[6] * s * s / 2
                y = ay + way[4] * s + way[7] * s * s / 2
                z = az + way[5] * s + way[8] * s * s / 2
                _height(one, other, f, (start + lo) / length, x, y, z, t)
                if _inside(t, x, y, z):
                    best = lo
    return best


@kernel(**_UNCOUNTED)
def _gap_mesh(boxes, links, order, one, other, root, tau, x, y, z, vx, vy, vz, length, reach, stack, near, t, out):
    """Write the gap to a mesh: see `gap_to`."""
    face, b0, b1, b2, px, py, pz, away = _closest(boxes, links, order, one, other, root, tau, x, y, z, reach, stack, near, t)
    if face < 0:
        out[0] = math.inf
        return
    ux, uy, uz = 0.0, 0.0, 0.0
    for k in range(3):
        share = b0 if k == 0 else (b1 if k == 1 else b2)
        ux += share * (other[face, k, 0] - one[face, k, 0])
        uy += share * (other[face, k, 1] - one[face, k, 1])
        uz += share * (other[face, k, 2] - one[face, k, 2])
    out[4], out[5], out[6] = ux / length, uy / length, uz / length
    nx, ny, nz = x - px, y - py, z - pz
    if away > 1e-12:
        nx, ny, nz = nx / away, ny / away, nz / away
    else:  # exactly on it: off the side it comes from
        for k in range(3):
            _corner(one, other, face, k, tau, t)
        ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
        bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
        nx, ny, nz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        size = max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-300)
        flip = -1.0 if nx * vx + ny * vy + nz * vz > 0.0 else 1.0
        nx, ny, nz = flip * nx / size, flip * ny / size, flip * nz / size
    out[0], out[1], out[2], out[3] = away, nx, ny, nz
    out[7], out[8], out[9] = face, b1, b2


@kernel(**_UNCOUNTED)
def _gap_shape(kind, side, frames, p, x, y, z, tau, length, out):
    """Write the gap to a shape: see `gap_to`."""
    a, b = frames[0], frames[1]
    # the place in the shape's space: from where it would be at the step's start and end, evenly between
    lx, ly, lz = 0.0, 0.0, 0.0
    for which in range(2):
        m = a if which == 0 else b
        share = 1.0 - tau if which == 0 else tau
        if share == 0.0:
            continue
        dx, dy, dz = x - m[9], y - m[10], z - m[11]
        lx += share * (m[0] * dx + m[3] * dy + m[6] * dz)
        ly += share * (m[1] * dx + m[4] * dy + m[7] * dz)
        lz += share * (m[2] * dx + m[5] * dy + m[8] * dz)
    away, nx, ny, nz = shape_gap(kind, side, p, lx, ly, lz)
    wx, wy, wz = 0.0, 0.0, 0.0
    for k in range(3):
        n = nx if k == 0 else (ny if k == 1 else nz)
        wx += (a[k] + (b[k] - a[k]) * tau) * n
        wy += (a[3 + k] + (b[3 + k] - a[3 + k]) * tau) * n
        wz += (a[6 + k] + (b[6 + k] - a[6 + k]) * tau) * n
    size = max(math.sqrt(wx * wx + wy * wy + wz * wz), 1e-300)
    out[0], out[1], out[2], out[3] = away, wx / size, wy / size, wz / size
    out[4] = ((b[0] - a[0]) * lx + (b[1] - a[1]) * ly + (b[2] - a[2]) * lz + b[9] - a[9]) / length
    out[5] = ((b[3] - a[3]) * lx + (b[4] - a[4]) * ly + (b[5] - a[5]) * lz + b[10] - a[10]) / length
    out[6] = ((b[6] - a[6]) * lx + (b[7] - a[7]) * ly + (b[8] - a[8]) * lz + b[11] - a[11]) / length
    out[7], out[8], out[9] = -1.0, 0.0, 0.0


@kernel(**_UNCOUNTED)
def gap_to(c, world, p, root, x, y, z, vx, vy, vz, tau, length, reach, room):
    """Write how far a place is from a contact: the distance, the normal, how fast what is there moves, and of a mesh the triangle and shares of its
    corners, into the room's (10). Beyond `reach` of a mesh the distance is infinite."""
    if world[0][c] == MESH:
        _gap_mesh(world[3], world[4], world[5], world[6], world[7], root, tau, x, y, z, vx, vy, vz, length, reach, room[0], room[1], room[2], room[3])
    else:
        _gap_shape(world[0][c], world[1][c], world[2][c], p, x, y, z, tau, length, room[3])
