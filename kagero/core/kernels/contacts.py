"""Particles that meet things within a step, each at its own moment: how they get there, where they bounce, slide, stick and rest.

A particle is a ball about its place. Its way through a step is the parabola through both ends of the step with the velocity it began with; what it
meets moves evenly over the step. Where it first comes as near as its radius is found by going from tangent plane to tangent plane (which no convex
body lies before), and between two places with the Illinois rule (Dowell and Jarratt, BIT 11, 1971); meshes are crossed by signed volumes of
triangles that
move, the side that a particle is on never changing. There it is answered by Newton's rule of impact and Coulomb's friction (any handbook of
mechanics); it goes on from there with what is left of the step, as often as it must. One that would bounce less than can be told rests, and
slides until friction stops it.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numba import njit, uint64

from .bvh import _box_distance, _nearest_on
from .random import _mix

_UNCOUNTED: Any = {"cache": True, "nogil": True, "error_model": "numpy", "_nrt": False}
PLANE, BALL, BOX, ROD, MESH = range(5)
# what is given of all particles: place, velocity as the step began and as it ended, its length, factors, what was before
X0, V0, X1, V1, DT, LIVELY, RUBS, TOUCHED, COUNT, STUCK, HELD = 0, 3, 6, 9, 12, 13, 14, 15, 16, 17, 18
BASE = 21
# and of each contact
BOUNCE, FRICTION, STICK, BELOW, RADIUS, ROUGH, ACTS, SHAPE = range(8)
EACH = 13
OUT = 22  # place, velocity, touching, count, seconds ago, speed, angle, normal, which, face, two shares of its corners, stuck, where (3)
MOST = 24  # of what happens to a particle within a step
DEPTH = 96


@njit(**_UNCOUNTED, inline="always")
def _given(where, numbers, columns, a, i):
    return float(columns[where[a], i]) if where[a] >= 0 else numbers[a]


@njit(**_UNCOUNTED)
def _shape(kind, side, p, x, y, z):
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


@njit(**_UNCOUNTED)
def _corner(one, other, f, k, tau, out):
    for a in range(3):
        out[k, a] = one[f, k, a] + (other[f, k, a] - one[f, k, a]) * tau


@njit(**_UNCOUNTED)
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


@njit(**_UNCOUNTED, inline="always")
def _height(one, other, f, tau, x, y, z, t):
    """Return six times the signed volume over a triangle, and the shares of its corners below the place, before they are divided by their sum."""
    for k in range(3):
        _corner(one, other, f, k, tau, t)
    ax, ay, az = t[0, 0] - x, t[0, 1] - y, t[0, 2] - z
    bx, by, bz = t[1, 0] - x, t[1, 1] - y, t[1, 2] - z
    cx, cy, cz = t[2, 0] - x, t[2, 1] - y, t[2, 2] - z
    return ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)


@njit(**_UNCOUNTED)
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


@njit(**_UNCOUNTED)
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


@njit(**_UNCOUNTED)
def _gap(c, world, p, root, x, y, z, vx, vy, vz, tau, length, reach, room):
    """Write how far a place is from a contact: the distance, the normal, how fast what is there moves, and of a mesh the triangle and shares of its
    corners, out (10). Beyond `reach` of a mesh the distance is infinite."""
    kinds, sides, frames, boxes, links, order, one, other = world
    stack, near, t, out = room
    if kinds[c] == MESH:
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
        return
    a, b = frames[c, 0], frames[c, 1]
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
    away, nx, ny, nz = _shape(kinds[c], sides[c], p, lx, ly, lz)
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


@njit(**_UNCOUNTED, inline="always")
def _falls(gap, speed, push):
    """Return after how long a gap that changes at a speed, pushed evenly, closes; infinity: never."""
    if push < 0.0:
        return (speed + math.sqrt(max(speed * speed - 2.0 * push * gap, 0.0))) / -push
    if speed >= 0.0:
        return math.inf
    if push == 0.0:
        return gap / -speed
    under = speed * speed - 2.0 * push * gap
    return 2.0 * gap / (-speed + math.sqrt(under)) if under >= 0.0 else math.inf


@njit(**_UNCOUNTED)
def _look(c, world, p, root, way, since, moment, start, length, reach, room):
    """Write the gap (of `_gap`) where a way is at a moment; return where that is, how fast the gap grows there, and what pushes it open."""
    gap = room[3]
    s = moment - since
    x = way[0] + way[3] * s + way[6] * s * s / 2
    y = way[1] + way[4] * s + way[7] * s * s / 2
    z = way[2] + way[5] * s + way[8] * s * s / 2
    vx, vy, vz = way[3] + way[6] * s, way[4] + way[7] * s, way[5] + way[8] * s
    _gap(c, world, p, root, x, y, z, vx, vy, vz, (start + moment) / length, length, reach, room)
    speed = (vx - gap[4]) * gap[1] + (vy - gap[5]) * gap[2] + (vz - gap[6]) * gap[3]
    push = way[6] * gap[1] + way[7] * gap[2] + way[8] * gap[3]
    return 1.0 + max(abs(x), abs(y), abs(z)), speed, push


@njit(**_UNCOUNTED)
def _first(c, world, p, root, way, since, until, start, length, radius, sway, room):
    """Return when a way first comes as near to a contact as a radius, between two moments; infinity: not at all. way, start: as of `_crossed`."""
    gap = room[3]
    kinds = world[0]
    h = until - since
    bend = math.sqrt(way[6] ** 2 + way[7] ** 2 + way[8] ** 2) * h * h / 2
    reach = radius + math.sqrt(way[3] ** 2 + way[4] ** 2 + way[5] ** 2) * h + bend + sway + 1e-6
    large, speed, push = _look(c, world, p, root, way, since, since, start, length, reach, room)
    if not gap[0] < math.inf:
        return math.inf
    lo, g_lo = since, gap[0] - radius
    if g_lo < -3e-7 * large:
        return since  # it is in it: out at once
    if g_lo <= 3e-7 * large:  # no more than rounding of where a step left it: it touches, unless it leaves
        if speed <= 0.0 or speed <= abs(push) * 5e-4 and push < 0.0:
            return since
        g_lo = 0.0
    crossing = math.inf
    if kinds[c] == MESH:
        crossing = _crossed(world, root, way, since, until, start, length, bend / 4 + 1e-9, room)
    hi, g_hi = math.inf, -1.0
    for _ in range(30):
        ahead = lo + _falls(g_lo, speed, push)
        if ahead > min(until, crossing):
            if crossing <= until:
                hi, g_hi = crossing, -radius
                break
            large, speed, push = _look(c, world, p, root, way, since, until, start, length, reach, room)
            if gap[0] - radius >= -3e-7 * large:
                return math.inf
            hi, g_hi = until, gap[0] - radius
            break
        if ahead - lo <= 1e-15:
            return lo
        large, speed, push = _look(c, world, p, root, way, since, ahead, start, length, reach, room)
        value = gap[0] - radius
        if abs(value) <= 1e-9 * large:
            return ahead
        if value < 0.0:
            hi, g_hi = ahead, value
            break
        lo, g_lo = ahead, value
    if not hi < math.inf:
        return lo if g_lo <= 1e-5 * large else math.inf
    if g_lo <= 1e-9 * large:  # it leaves what it touched, and comes back: a moment between when it is off
        probe = hi
        for _ in range(14):
            probe = lo + (probe - lo) / 2
            large, speed, push = _look(c, world, p, root, way, since, probe, start, length, reach, room)
            if gap[0] - radius > 1e-9 * large:
                lo, g_lo = probe, gap[0] - radius
                break
            hi, g_hi = probe, min(gap[0] - radius, -1e-12)
        if g_lo <= 1e-9 * large:
            return lo
    last = 0
    for _ in range(60):
        mid = (lo * g_hi - hi * g_lo) / (g_hi - g_lo)
        if not lo < mid < hi:
            mid = (lo + hi) / 2
        large, speed, push = _look(c, world, p, root, way, since, mid, start, length, reach, room)
        value = gap[0] - radius
        if abs(value) <= 1e-9 * large or hi - lo < 1e-12 * length:
            return mid if value >= -1e-9 * large else lo
        if value > 0.0:
            lo, g_lo = mid, value
            g_hi = g_hi / 2 if last == 1 else g_hi
            last = 1
        else:
            hi, g_hi = mid, value
            g_lo = g_lo / 2 if last == -1 else g_lo
            last = -1
    return lo


@njit(**_UNCOUNTED, inline="always")
def _draw(key, count, what):
    z = _mix(_mix(key + uint64(0x9E3779B97F4A7C15)) ^ (uint64(count) * uint64(0xD1342543DE82EF95) + uint64(what)))
    return float(z >> uint64(11)) / 9007199254740992.0


def room_for(contacts: int) -> tuple[np.ndarray, ...]:
    """Return the room that `meet` works in."""
    return np.empty(DEPTH, np.int64), np.empty(DEPTH), np.empty((3, 3)), np.empty(10), np.empty(9), np.zeros((max(contacts, 1), 6))


@njit(**_UNCOUNTED)
def meet(
    where,
    numbers,
    columns,
    keys,
    kinds,
    sides,
    frames,
    scales,
    roots,
    boxes,
    links,
    order,
    one,
    other,
    sways,
    skins,
    length,
    stack,
    near,
    t,
    gap,
    way,
    shapes,
    out,
):
    """Take particles through a step that contacts stand in the way of; write what comes of it, out (OUT, n) float32.

    where, numbers: of each argument, BASE and then EACH of every contact, its row of columns (K, n) float32, or -1 and the number that all share.
    keys: (n,) uint64. kinds, sides (C,): of contacts, and 1 or -1, off their outside or inside. frames: (C, 2, 12), turn and place of each as the
    whole step begins and ends; scales (C, 3), by how much it is larger. roots (C,): of meshes the root of their tree, boxes, links, order as of
    `kernels.bvh`, boxes round both ends; one, other: corners of triangles (F, 3, 3) as the step begins and ends; sways, skins (C,): how far they
    go at most, and how thin a particle is at least, metres. length: of the whole step, seconds. stack, near, t, gap, way, shapes: room (`room_for`).
    """
    world, room, contacts = (kinds, sides, frames, boxes, links, order, one, other), (stack, near, t, gap), len(kinds)
    for i in range(out.shape[1]):
        dt = _given(where, numbers, columns, DT, i)
        for k in range(3):
            out[k, i] = _given(where, numbers, columns, X1 + k, i)
            out[3 + k, i] = _given(where, numbers, columns, V1 + k, i)
        count = _given(where, numbers, columns, COUNT, i)
        was = _given(where, numbers, columns, TOUCHED, i) > 0.5
        out[6, i], out[7, i], out[8, i] = 0.0, count, -1.0
        for k in range(9, OUT):
            out[k, i] = 0.0
        if not dt > 0.0:
            for k in range(STUCK, BASE):
                out[18 + k - STUCK, i] = _given(where, numbers, columns, k, i)
            out[6, i] = 1.0 if was else 0.0
            continue
        start = length - dt
        stuck = _given(where, numbers, columns, STUCK, i)
        for c in range(contacts):
            a = BASE + EACH * c + SHAPE
            for k in range(6):
                shapes[c, k] = _given(where, numbers, columns, a + k, i)
            if kinds[c] != MESH:
                for k in range(3):
                    shapes[c, k] *= scales[c, k]
                if kinds[c] == BALL:
                    shapes[c, 3] *= (scales[c, 0] + scales[c, 1] + scales[c, 2]) / 3
                elif kinds[c] == BOX:
                    for k in range(3):
                        shapes[c, 3 + k] *= scales[c, k]
                elif kinds[c] == ROD:
                    shapes[c, 3] *= (scales[c, 0] + scales[c, 2]) / 2
                    shapes[c, 4] *= scales[c, 1]
        if stuck != 0.0:
            c = int(abs(stuck)) - 1
            if c < contacts and _given(where, numbers, columns, BASE + EACH * c + ACTS, i) > 0.5:
                h0, h1, h2 = (_given(where, numbers, columns, HELD, i), _given(where, numbers, columns, HELD + 1, i),
                              _given(where, numbers, columns, HELD + 2, i))  # fmt: skip
                if kinds[c] == MESH:
                    f = int(h0)
                    w0 = 1.0 - h1 - h2
                    for k in range(3):
                        t[0, k], t[1, k], t[2, k] = other[f, 0, k], other[f, 1, k], other[f, 2, k]
                        out[k, i] = w0 * other[f, 0, k] + h1 * other[f, 1, k] + h2 * other[f, 2, k]
                        out[3 + k, i] = (w0 * (other[f, 0, k] - one[f, 0, k]) + h1 * (other[f, 1, k] - one[f, 1, k])
                                         + h2 * (other[f, 2, k] - one[f, 2, k])) / length  # fmt: skip
                    ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
                    bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
                    nx, ny, nz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
                    off = (max(_given(where, numbers, columns, BASE + EACH * c + RADIUS, i), skins[c]) * math.copysign(1.0, stuck)
                           / max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-300))  # fmt: skip
                    out[0, i] += nx * off
                    out[1, i] += ny * off
                    out[2, i] += nz * off
                else:
                    for k in range(3):
                        b, a_ = frames[c, 1], frames[c, 0]
                        at = b[3 * k] * h0 + b[3 * k + 1] * h1 + b[3 * k + 2] * h2 + b[9 + k]
                        out[k, i] = at
                        out[3 + k, i] = (at - (a_[3 * k] * h0 + a_[3 * k + 1] * h1 + a_[3 * k + 2] * h2 + a_[9 + k])) / length
                out[6, i], out[18, i], out[19, i], out[20, i], out[21, i] = 1.0, stuck, h0, h1, h2
                continue
        for k in range(3):
            x0, v0 = _given(where, numbers, columns, X0 + k, i), _given(where, numbers, columns, V0 + k, i)
            push = (_given(where, numbers, columns, V1 + k, i) - v0) / dt
            astray = _given(where, numbers, columns, X1 + k, i) - (x0 + v0 * dt + push * dt * dt / 2)
            if abs(astray) <= 4e-7 * (1.0 + abs(x0)):  # no more than rounding
                astray = 0.0
            way[k], way[3 + k], way[6 + k] = x0, v0 + astray / dt, push
        px, py, pz = way[6], way[7], way[8]  # what pushes it, all along the step
        at, until, on, happened, touched = 0.0, dt, -1, 0, False
        while True:
            best, which = math.inf, -1
            for c in range(contacts):
                a = BASE + EACH * c
                if c == on or not _given(where, numbers, columns, a + ACTS, i) > 0.5:
                    continue
                radius = max(_given(where, numbers, columns, a + RADIUS, i), skins[c])
                hit = _first(c, world, shapes[c], roots[c], way, at, until, start, length, radius, sways[c],
                             room)  # fmt: skip
                if hit < best:
                    best, which = hit, c
            ends = which < 0
            if ends and on < 0 and not touched:
                break  # it meets nothing: as its pushes have it
            s = (until if ends else best) - at
            x, vx = way[0] + way[3] * s + way[6] * s * s / 2, way[3] + way[6] * s
            y, vy = way[1] + way[4] * s + way[7] * s * s / 2, way[4] + way[7] * s
            z, vz = way[2] + way[5] * s + way[8] * s * s / 2, way[5] + way[8] * s
            at += s
            if ends and on < 0:
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, vx, vy, vz
                break
            c = on if ends else which
            a = BASE + EACH * c
            happened += 1
            radius = max(_given(where, numbers, columns, a + RADIUS, i), skins[c])
            tau = (start + at) / length
            _gap(c, world, shapes[c], roots[c], x, y, z, vx, vy, vz, tau, length,
                 4 * radius + sways[c] + 0.01, room)  # fmt: skip
            if ends and gap[0] > radius + 1e-5 * (1.0 + max(abs(x), abs(y), abs(z))):  # it slid off
                if at >= dt or happened > 2 * MOST:
                    out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, vx, vy, vz
                    break
                way[0], way[1], way[2], way[3], way[4], way[5], way[6], way[7], way[8] = x, y, z, vx, vy, vz, px, py, pz
                on, until = -1, dt
                continue
            nx, ny, nz, ux, uy, uz = gap[1], gap[2], gap[3], gap[4], gap[5], gap[6]
            deep = radius - gap[0]
            if deep > 0.0 or ends:
                x, y, z = x + nx * deep, y + ny * deep, z + nz * deep
            rx, ry, rz = vx - ux, vy - uy, vz - uz
            speed = rx * nx + ry * ny + rz * nz
            tx, ty, tz = rx - speed * nx, ry - speed * ny, rz - speed * nz
            side = math.sqrt(tx * tx + ty * ty + tz * tz)
            fast = math.sqrt(side * side + speed * speed)
            press = px * nx + py * ny + pz * nz
            rubs = max(_given(where, numbers, columns, a + FRICTION, i) * _given(where, numbers, columns, RUBS, i), 0.0)
            lively = max(_given(where, numbers, columns, a + BOUNCE, i) * _given(where, numbers, columns, LIVELY, i), 0.0)
            small = abs(press) * 5e-4 + 1e-6  # a speed that is none: half a millisecond of what presses it on
            struck = not ends and speed < -small
            fresh = struck or not (was or touched or ends)
            touched = True
            if fresh:
                count += 1.0
                out[8, i], out[9, i], out[10, i] = dt - at, fast, math.atan2(side, max(-speed, 0.0))
            out[11, i], out[12, i], out[13, i], out[14, i] = nx, ny, nz, c + 1.0
            out[15, i], out[16, i], out[17, i] = gap[7], gap[8], gap[9]
            stick = _given(where, numbers, columns, a + STICK, i)
            if fresh and stick > 0.0 and fast <= _given(where, numbers, columns, a + BELOW, i) and _draw(keys[i], count, 2 * c) < stick:
                left = dt - at
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x + ux * left, y + uy * left, z + uz * left, ux, uy, uz
                out[18, i] = c + 1.0
                if kinds[c] == MESH:
                    f = int(gap[7])
                    for k in range(3):
                        _corner(one, other, f, k, tau, t)
                    ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
                    bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
                    up = nx * (ay * bz - az * by) + ny * (az * bx - ax * bz) + nz * (ax * by - ay * bx)
                    out[18, i] = math.copysign(c + 1.0, up)
                    out[19, i], out[20, i], out[21, i] = gap[7], gap[8], gap[9]
                else:
                    dx, dy, dz = x + ux * left - frames[c, 1, 9], y + uy * left - frames[c, 1, 10], z + uz * left - frames[c, 1, 11]
                    for k in range(3):
                        out[19 + k, i] = frames[c, 1, k] * dx + frames[c, 1, 3 + k] * dy + frames[c, 1, 6 + k] * dz
                break
            back = 0.0
            if struck:  # Newton's rule along the normal, Coulomb's friction across it
                back = -lively * speed
                took = min(rubs * (back - speed), side)
                if side > 0.0:
                    tx, ty, tz = tx * (1.0 - took / side), ty * (1.0 - took / side), tz * (1.0 - took / side)
                    side -= took
            elif not ends and speed > 0.0:
                back = speed  # it was in it, and is on its way out
            if (back > small or (back > 0.0 and press >= 0.0)) and happened < MOST:
                ox, oy, oz = tx + back * nx, ty + back * ny, tz + back * nz
                rough = _given(where, numbers, columns, a + ROUGH, i)
                if rough > 0.0 and struck:
                    ox, oy, oz = _strewn(ox, oy, oz, nx, ny, nz, rough, _draw(keys[i], count, 1001), _draw(keys[i], count, 1002))
                on, until = -1, dt
                way[0], way[1], way[2], way[3], way[4], way[5] = x, y, z, ux + ox, uy + oy, uz + oz
                way[6], way[7], way[8] = px, py, pz
            else:  # along it, as pushes take it and friction holds it back, up to a stop
                rub = rubs * max(-press, 0.0)
                ax, ay, az = px - press * nx, py - press * ny, pz - press * nz
                drive = math.sqrt(ax * ax + ay * ay + az * az)
                on, until = c, dt
                if press >= 0.0:
                    on = c if happened >= MOST else -1
                    ax, ay, az = (ax, ay, az) if on >= 0 else (px, py, pz)
                elif side <= 1e-7:
                    tx, ty, tz = 0.0, 0.0, 0.0
                    share = (drive - rub) / drive if drive > rub else 0.0
                    ax, ay, az = ax * share, ay * share, az * share
                else:
                    ax, ay, az = ax - rub * tx / side, ay - rub * ty / side, az - rub * tz / side
                    slows = -(ax * tx + ay * ty + az * tz) / side
                    if rub > 0.0 and slows > 0.0 and side / slows < dt - at:
                        until = at + side / slows
                way[0], way[1], way[2], way[3], way[4], way[5] = x, y, z, ux + tx, uy + ty, uz + tz
                way[6], way[7], way[8] = ax, ay, az
            if at >= dt or happened > 2 * MOST:
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, way[3], way[4], way[5]
                break
        out[6, i] = 1.0 if touched else 0.0
        out[7, i] = count


@njit(**_UNCOUNTED)
def _strewn(x, y, z, nx, ny, nz, most, one, other):
    """Return a velocity turned by up to an angle, evenly over the cap round it, and kept off the surface."""
    size = math.sqrt(x * x + y * y + z * z)
    if not size > 0.0:
        return x, y, z
    dx, dy, dz = x / size, y / size, z / size
    cosine = 1.0 - one * (1.0 - math.cos(min(most, math.pi)))
    sine, turn = math.sqrt(max(1.0 - cosine * cosine, 0.0)), 2.0 * math.pi * other
    # a frame about it (Duff et al., "Building an orthonormal basis, revisited", JCGT 6, 2017)
    sign = math.copysign(1.0, dz)
    a = -1.0 / (sign + dz)
    b = dx * dy * a
    p, q = sine * math.cos(turn), sine * math.sin(turn)
    rx = cosine * dx + p * (1.0 + sign * dx * dx * a) + q * b
    ry = cosine * dy + p * (sign * b) + q * (sign + dy * dy * a)
    rz = cosine * dz + p * (-sign * dx) + q * (-dy)
    into = rx * nx + ry * ny + rz * nz
    if into < 0.0:
        rx, ry, rz = rx - 2.0 * into * nx, ry - 2.0 * into * ny, rz - 2.0 * into * nz
    return rx * size, ry * size, rz * size
