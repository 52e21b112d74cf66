"""Distances between particles and contacts: shapes in closed form, and meshes whose triangles move within a step."""

from __future__ import annotations

import math
from typing import Any

from .bvh import _box_distance, _nearest_on
from .compiled import kernel
from .contact_shapes import MESH, distance

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
SAME_DIRECTION = math.cos(math.radians(1.0))  # directions that are no further apart are one


@kernel(**_OPTIONS)
def shape_gap(number, side, p, x, y, z):
    """Return the distance from a point to a shape in the shape's own space, metres (negative on the other side), and
    the direction away from it. number: of the shape, in `contact_shapes`; side: 1 or -1 for its outside or inside."""
    away, nx, ny, nz = distance(number, p, x - p[0], y - p[1], z - p[2])
    return side * away, side * nx, side * ny, side * nz


@kernel(**_OPTIONS)
def _corner(one, other, f, k, tau, out):
    for a in range(3):
        out[k, a] = one[f, k, a] + (other[f, k, a] - one[f, k, a]) * tau


@kernel(**_OPTIONS)
def _is_supported(t, x, y, z, qx, qy, qz, away, radius, off, count):
    """Return whether triangle t, nearest to a point at q, belongs to a surface that already supports a ball there: the
    direction to it is that of a support, or the triangle lies in a support's plane."""
    nx, ny, nz, size = 0.0, 0.0, 0.0, -1.0
    for k in range(count):
        if (x - qx) * off[k, 0] + (y - qy) * off[k, 1] + (z - qz) * off[k, 2] > SAME_DIRECTION * away:
            return True
        if size < 0.0:
            ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
            bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
            nx, ny, nz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
            size = math.sqrt(nx * nx + ny * ny + nz * nz)
        high = ((x - t[0, 0]) * nx + (y - t[0, 1]) * ny + (z - t[0, 2]) * nz) / max(size, 1e-300)
        level = (nx * off[k, 0] + ny * off[k, 1] + nz * off[k, 2]) * math.copysign(1.0, high)
        if level > SAME_DIRECTION * size and abs(abs(high) - radius) <= 1e-3 * radius:
            return True
    return False


@kernel(**_OPTIONS)
def _closest(boxes, links, order, one, other, root, tau, x, y, z, reach, radius, count, stack, near, t, off):
    """Return the nearest triangle of a moving mesh within `reach` (-1: none), its nearest point, the shares of its
    second and third corner, and the distance. Triangles that support a ball of `radius` from the first `count`
    directions of off are left out."""
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
                    if count > 0 and _is_supported(t, x, y, z, qx, qy, qz, math.sqrt(away), radius, off, count):
                        continue
                    best, face, b0, b1, b2, px, py, pz = away, f, u, v, w, qx, qy, qz
            continue
        l_far, r_far = _box_distance(boxes[left], x, y, z), _box_distance(boxes[right], x, y, z)
        if l_far <= r_far:
            left, right, l_far, r_far = right, left, r_far, l_far
        stack[top], near[top] = left, l_far
        stack[top + 1], near[top + 1] = right, r_far
        top += 2
    return face, b0, b1, b2, px, py, pz, math.sqrt(best)


@kernel(**_OPTIONS)
def _signed_volume_polynomial(one, other, f, tau, slope, path, h, out):
    """Write six times the signed volume between a triangle and a point on a path, as the five Bernstein coefficients of
    a polynomial of degree 4: corners move linearly, the path is a parabola.

    tau: position of the triangle at the path's start, as a share of the step; slope: growth of tau along the whole
    path. h: duration of the path, seconds.
    """
    a0, a1, a2, a3, a4 = 0.0, 0.0, 0.0, 0.0, 0.0
    for k in range(3):
        i, j = (k + 1) % 3, (k + 2) % 3
        # edges as the path begins, and by how much they change along it
        mi, mj = other[f, 0, i] - one[f, 0, i], other[f, 0, j] - one[f, 0, j]
        bi, bj = one[f, 1, i] - one[f, 0, i], one[f, 1, j] - one[f, 0, j]
        ci, cj = one[f, 2, i] - one[f, 0, i], one[f, 2, j] - one[f, 0, j]
        di, dj = (other[f, 1, i] - one[f, 1, i] - mi), (other[f, 1, j] - one[f, 1, j] - mj)
        ei, ej = (other[f, 2, i] - one[f, 2, i] - mi), (other[f, 2, j] - one[f, 2, j] - mj)
        bi, bj, ci, cj = bi + di * tau, bj + dj * tau, ci + ei * tau, cj + ej * tau
        di, dj, ei, ej = di * slope, dj * slope, ei * slope, ej * slope
        n0 = bi * cj - bj * ci
        n1 = bi * ej + di * cj - bj * ei - dj * ci
        n2 = di * ej - dj * ei
        m = other[f, 0, k] - one[f, 0, k]
        p0 = one[f, 0, k] + m * tau - path[k]
        p1 = m * slope - path[3 + k] * h
        p2 = -path[6 + k] * h * h / 2
        a0 += n0 * p0
        a1 += n0 * p1 + n1 * p0
        a2 += n0 * p2 + n1 * p1 + n2 * p0
        a3 += n1 * p2 + n2 * p1
        a4 += n2 * p2
    out[0] = a0
    out[1] = a0 + a1 / 4
    out[2] = a0 + a1 / 2 + a2 / 6
    out[3] = a0 + 3 * a1 / 4 + a2 / 2 + a3 / 4
    out[4] = a0 + a1 + a2 + a3 + a4


@kernel(**_OPTIONS)
def _sign_changes(b):
    """Return the number of sign changes of Bernstein coefficients: at least the number of roots in the interval, and
    greater by an even number (Descartes' rule of signs)."""
    found, last = 0, 0.0
    for k in range(5):
        if b[k] != 0.0:
            if last * b[k] < 0.0:
                found += 1
            last = math.copysign(1.0, b[k])
    return found


@kernel(**_OPTIONS)
def _bernstein_value(b, u):
    """Return the value of a polynomial at u, 0 to 1 of its interval, by de Casteljau's algorithm."""
    v = 1.0 - u
    p0, p1, p2, p3 = v * b[0] + u * b[1], v * b[1] + u * b[2], v * b[2] + u * b[3], v * b[3] + u * b[4]
    p0, p1, p2 = v * p0 + u * p1, v * p1 + u * p2, v * p2 + u * p3
    p0, p1 = v * p0 + u * p1, v * p1 + u * p2
    return v * p0 + u * p1


@kernel(**_OPTIONS)
def _subdivide(b, k):
    """Halve the polynomial in row k of b: the left half goes to row k + 1, the right half to row k, with their
    intervals in columns 5 and 6."""
    p0, p1, p2, p3, p4, low, high = b[k, 0], b[k, 1], b[k, 2], b[k, 3], b[k, 4], b[k, 5], b[k, 6]
    q0, q1, q2, q3 = (p0 + p1) / 2, (p1 + p2) / 2, (p2 + p3) / 2, (p3 + p4) / 2
    r0, r1, r2 = (q0 + q1) / 2, (q1 + q2) / 2, (q2 + q3) / 2
    s0, s1 = (r0 + r1) / 2, (r1 + r2) / 2
    m, middle = (s0 + s1) / 2, (low + high) / 2
    if m == 0.0:  # a root exactly there is the left half's
        m = math.copysign(1e-300, p4)
    b[k, 0], b[k, 1], b[k, 2], b[k, 3], b[k, 4], b[k, 5], b[k, 6] = m, s1, r2, q3, p4, middle, high
    k += 1
    b[k, 0], b[k, 1], b[k, 2], b[k, 3], b[k, 4], b[k, 5], b[k, 6] = p0, q0, r0, s0, m, low, middle


@kernel(**_OPTIONS)
def _crossing_share(one, other, f, tau, slope, path, h, most, t, bern):
    """Return the share of a path, at most `most`, at which it first crosses a moving triangle; infinity for none."""
    _signed_volume_polynomial(one, other, f, tau, slope, path, h, bern[0])
    if _sign_changes(bern[0]) == 0:
        return math.inf
    bern[0, 5], bern[0, 6], top = 0.0, 1.0, 1
    while top > 0:  # from the left: the first root on the triangle is the answer
        top -= 1
        low, high = bern[top, 5], bern[top, 6]
        turns = _sign_changes(bern[top])
        if turns == 0 or low > most:
            continue
        if turns > 1 and high - low > 1e-13:
            _subdivide(bern, top)
            top += 2
            continue
        lo, hi, g_lo, g_hi, last = 0.0, 1.0, bern[top, 0], bern[top, 4], 0
        if g_lo == 0.0:  # it begins on the plane
            g_lo = -math.copysign(1e-300, g_hi)
        for _ in range(60 if turns == 1 else 0):  # Illinois
            u = (lo * g_hi - hi * g_lo) / (g_hi - g_lo)
            if not lo < u < hi:
                u = (lo + hi) / 2
            value = _bernstein_value(bern[top], u)
            if value == 0.0 or (hi - lo) * (high - low) < 1e-14:
                lo = u
                break
            if value * g_lo > 0.0:
                lo, g_lo = u, value
                g_hi = g_hi / 2 if last == 1 else g_hi
                last = 1
            else:
                hi, g_hi = u, value
                g_lo = g_lo / 2 if last == -1 else g_lo
                last = -1
        u = low + lo * (high - low)
        s = u * h
        x = path[0] + path[3] * s + path[6] * s * s / 2
        y = path[1] + path[4] * s + path[7] * s * s / 2
        z = path[2] + path[5] * s + path[8] * s * s / 2
        for k in range(3):
            _corner(one, other, f, k, tau + slope * u, t)
        if _inside(t, x, y, z):
            return u
    return math.inf


@kernel(**_OPTIONS)
def _inside(t, x, y, z):
    """Return whether a point in a triangle's plane lies on the triangle; an edge belongs to both of its triangles."""
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


@kernel(**_OPTIONS)
def _first_crossing(world, root, path, since, until, start, length, wide, room):
    """Return the time, in seconds of the step, at which a path first crosses a triangle of a moving mesh between two
    times; infinity for none.

    path: position, velocity, acceleration at `since`, (9,). start, length: start of the particle's own step and length
    of the whole step, which place the mesh in time. wide: deviation of the path from its chord, metres.
    """
    _, _, _, boxes, links, order, one, other = world
    stack, t, bern = room[0], room[2], room[5]
    ax, ay, az = path[0], path[1], path[2]
    h = until - since
    bx = ax + path[3] * h + path[6] * h * h / 2
    by = ay + path[4] * h + path[7] * h * h / 2
    bz = az + path[5] * h + path[8] * h * h / 2
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
            share = _crossing_share(one, other, order[j], tau0, tau1 - tau0, path, h, best, t, bern)
            if share < best:
                best = share
    return since + best * h if best < math.inf else math.inf


@kernel(**_OPTIONS)
def _gap_mesh(
    boxes,
    links,
    order,
    one,
    other,
    root,
    tau,
    x,
    y,
    z,
    vx,
    vy,
    vz,
    length,
    reach,
    radius,
    count,
    stack,
    near,
    t,
    out,
    off,
):
    """Write the gap to a mesh; see `gap_to`."""
    face, b0, b1, b2, px, py, pz, away = _closest(
        boxes, links, order, one, other, root, tau, x, y, z, reach, radius, count, stack, near, t, off
    )
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


@kernel(**_OPTIONS)
def _gap_shape(kind, side, frames, p, x, y, z, tau, length, out):
    """Write the gap to a shape; see `gap_to`."""
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


@kernel(**_OPTIONS)
def gap_to(c, world, p, root, x, y, z, vx, vy, vz, tau, length, reach, radius, count, room):
    """Write the gap between a point and contact c into the working memory's (10,) array: distance (m), normal (3),
    velocity of the surface there (3), and for a mesh the triangle and the shares of its second and third corner.

    Beyond `reach` of a mesh the distance is infinite. Triangles that support a ball of `radius` from the first `count`
    directions of the working memory are left out.
    """
    if world[0][c] == MESH:
        _gap_mesh(
            world[3],
            world[4],
            world[5],
            world[6],
            world[7],
            root,
            tau,
            x,
            y,
            z,
            vx,
            vy,
            vz,
            length,
            reach,
            radius,
            count,
            room[0],
            room[1],
            room[2],
            room[3],
            room[4],
        )
    else:
        _gap_shape(world[0][c], world[1][c], world[2][c], p, x, y, z, tau, length, room[3])
