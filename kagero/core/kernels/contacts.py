"""Contacts within a step, each at its own time: particles bounce, slide, stick and rest.

A particle is a ball about its position. Its path through a step is the parabola through both ends of the step that
begins with its velocity; what it meets moves linearly over the step. The first time at which the distance equals the
radius is found by `time_of_impact`. The response there follows Newton's law of restitution and Coulomb's law of
friction (any handbook of mechanics), and the particle continues with the rest of the step, as often as needed. A bounce
too small to be resolved becomes rest: the particle slides, along one surface or along the edge between two, until
friction stops it. A surface that a particle slides on is not met again, but is not crossed either: where a mesh turns
under a particle, the particle is put back onto it before the crossing.
"""

from __future__ import annotations

import math
from typing import Any

from .compiled import kernel
from .contact_columns import (
    ACTS,
    BELOW,
    BOUNCE,
    COLUMNS_PER_CONTACT,
    COUNT,
    DT,
    FIRST_CONTACT_COLUMN,
    HELD,
    RADIUS,
    RESTITUTION_SCALE,
    ROUGH,
    SHAPE,
    STICK,
    STUCK,
    STUCK_NOW,
    TOUCHED,
    V0,
    V1,
    X0,
    X1,
    _add_support,
    _contact_number,
    _draw,
    _facing,
    _friction_of,
    _load_shape,
    _may_reach,
    _record_touch,
    _supports_of,
)
from .contact_distance import _corner, gap_to
from .contact_response import _place_moved_with_triangle, _scatter
from .contact_shapes import MESH
from .time_of_impact import NEGLIGIBLE, _first_touch

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
MAX_BOUNCES = 1_000  # times that a particle bounces within a step; and as often again that it goes on along something
MAX_STOPS_AT_ONE_TIME = 8  # times at one moment that it is stopped by one thing after the other: it rests between them


@kernel(**_OPTIONS, writes="stack near t gap off bern holds path shapes nears out")
def resolve_contacts(
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
    turns,
    length,
    stack,
    near,
    t,
    gap,
    off,
    bern,
    holds,
    path,
    shapes,
    nears,
    out,
):
    """Move particles through a step in which they may meet contacts.

    out: (PLAIN, n) float32, changed in place; on entry it holds the values of a step without contacts (position and
    velocity after the step, number of touches so far, -1 seconds since the last touch, else zero). With OUT rows the
    velocity after the last touch is written too; with OUT + TOUCHES * TOUCH rows also each of the first touches of the
    step.

    where, numbers: for each argument (FIRST_CONTACT_COLUMN of the particle, then COLUMNS_PER_CONTACT of every contact)
    its row of columns (K, n) float32, or -1 and the number that all particles share. keys: (n,) uint64. kinds, sides:
    (C,), the shape, and 1 or -1 for the outside or inside. frames: (C, 2, 12), rotation and position at the whole
    step's start and end. scales: (C, 3). roots: (C,), the root of a mesh's tree in boxes, links, order (as in
    `kernels.bvh`; the boxes enclose both ends of the step). one, other: (F, 3, 3), triangle corners at the step's start
    and end. sways: (C,), their largest displacement, metres. skins: (C,), smallest radius used against a mesh, metres.
    turns: (C,), displacement by rotation of a point one metre away. length: duration of the whole step, seconds. stack,
    near, t, gap, off, bern, holds, path, shapes, nears: working memory (`workspace_for`).
    """
    world = (kinds, sides, frames, boxes, links, order, one, other)
    room = (stack, near, t, gap, off, bern)
    contacts = len(kinds)
    fixed = True  # what is the same for all particles
    for c in range(contacts):
        for k in range(SHAPE, COLUMNS_PER_CONTACT):
            fixed = fixed and where[FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + k] < 0
    if fixed:
        for c in range(contacts):
            _load_shape(where, numbers, columns, kinds, scales, c, 0, shapes)
    sticky = where[STUCK] >= 0
    for i in range(out.shape[1]):
        dt = _contact_number(where, numbers, columns, DT, i)
        count = _contact_number(where, numbers, columns, COUNT, i)
        was = _contact_number(where, numbers, columns, TOUCHED, i) > 0.5
        if not dt > 0.0:
            for k in range(STUCK, FIRST_CONTACT_COLUMN):
                out[18 + k - STUCK, i] = _contact_number(where, numbers, columns, k, i)
            out[6, i] = 1.0 if was else 0.0
            continue
        start = length - dt
        stuck = _contact_number(where, numbers, columns, STUCK, i) if sticky else 0.0
        if not fixed:
            for c in range(contacts):
                _load_shape(where, numbers, columns, kinds, scales, c, i, shapes)
        if stuck >= STUCK_NOW:  # it is to stick to what it touches: where it is now
            c = int(stuck - STUCK_NOW) - 1
            stuck = 0.0
            if 0 <= c < contacts:
                x = _contact_number(where, numbers, columns, X0, i)
                y = _contact_number(where, numbers, columns, X0 + 1, i)
                z = _contact_number(where, numbers, columns, X0 + 2, i)
                radius = max(
                    _contact_number(
                        where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + RADIUS, i
                    ),
                    skins[c],
                )
                gap_to(
                    c,
                    world,
                    shapes[c],
                    roots[c],
                    x,
                    y,
                    z,
                    0.0,
                    0.0,
                    0.0,
                    start / length,
                    length,
                    4 * radius + sways[c] + 0.01,
                    radius,
                    0,
                    room,
                )
                if gap[0] < math.inf:
                    stuck = c + 1.0
                    out[19, i], out[20, i], out[21, i] = gap[7], gap[8], gap[9]
                    if kinds[c] == MESH:
                        f = int(gap[7])
                        for k in range(3):
                            _corner(one, other, f, k, start / length, t)
                        stuck = math.copysign(stuck, _facing(t, gap[1], gap[2], gap[3]))
                    else:
                        deep = radius - gap[0]
                        dx, dy, dz = x + gap[1] * deep, y + gap[2] * deep, z + gap[3] * deep
                        dx, dy, dz = dx - frames[c, 0, 9], dy - frames[c, 0, 10], dz - frames[c, 0, 11]
                        for k in range(3):
                            out[19 + k, i] = frames[c, 0, k] * dx + frames[c, 0, 3 + k] * dy + frames[c, 0, 6 + k] * dz
            reported = True
        else:
            reported = False
        if stuck != 0.0:
            c = int(abs(stuck)) - 1
            # what particles carry may be any number: whom nothing there holds is free
            there = 0 <= c < contacts
            if there and kinds[c] == MESH and not reported:
                there = 0.0 <= _contact_number(where, numbers, columns, HELD, i) < len(one)
            if (
                there
                and _contact_number(where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + ACTS, i)
                > 0.5
            ):
                h0 = _contact_number(where, numbers, columns, HELD, i)
                h1 = _contact_number(where, numbers, columns, HELD + 1, i)
                h2 = _contact_number(where, numbers, columns, HELD + 2, i)
                if reported:
                    h0, h1, h2 = float(out[19, i]), float(out[20, i]), float(out[21, i])
                if kinds[c] == MESH:
                    f = int(h0)
                    w0 = 1.0 - h1 - h2
                    for k in range(3):
                        t[0, k], t[1, k], t[2, k] = other[f, 0, k], other[f, 1, k], other[f, 2, k]
                        out[k, i] = w0 * other[f, 0, k] + h1 * other[f, 1, k] + h2 * other[f, 2, k]
                        out[3 + k, i] = (
                            w0 * (other[f, 0, k] - one[f, 0, k])
                            + h1 * (other[f, 1, k] - one[f, 1, k])
                            + h2 * (other[f, 2, k] - one[f, 2, k])
                        ) / length
                    ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
                    bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
                    nx, ny, nz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
                    lift = (
                        max(
                            _contact_number(
                                where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + RADIUS, i
                            ),
                            skins[c],
                        )
                        * math.copysign(1.0, stuck)
                        / max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-300)
                    )
                    out[0, i] += nx * lift
                    out[1, i] += ny * lift
                    out[2, i] += nz * lift
                else:
                    for k in range(3):
                        b, a_ = frames[c, 1], frames[c, 0]
                        at = b[3 * k] * h0 + b[3 * k + 1] * h1 + b[3 * k + 2] * h2 + b[9 + k]
                        out[k, i] = at
                        out[3 + k, i] = (
                            at - (a_[3 * k] * h0 + a_[3 * k + 1] * h1 + a_[3 * k + 2] * h2 + a_[9 + k])
                        ) / length
                out[6, i], out[18, i], out[19, i], out[20, i], out[21, i] = 1.0, stuck, h0, h1, h2
                continue
            out[19, i], out[20, i], out[21, i] = 0.0, 0.0, 0.0
        for k in range(3):
            x0 = _contact_number(where, numbers, columns, X0 + k, i)
            v0 = _contact_number(where, numbers, columns, V0 + k, i)
            push = (_contact_number(where, numbers, columns, V1 + k, i) - v0) / dt
            astray = _contact_number(where, numbers, columns, X1 + k, i) - (x0 + v0 * dt + push * dt * dt / 2)
            if abs(astray) <= 4e-7 * (1.0 + abs(x0)):  # no more than rounding
                astray = 0.0
            path[k], path[3 + k], path[6 + k] = x0, v0 + astray / dt, push
        px, py, pz = path[6], path[7], path[8]  # what pushes it, all along the step
        # whom it cannot come near in this step
        bend = math.sqrt(px * px + py * py + pz * pz) * dt * dt / 2
        span = math.sqrt(path[3] * path[3] + path[4] * path[4] + path[5] * path[5]) * dt + bend
        close = False
        for c in range(contacts):
            nears[c] = _may_reach(
                where,
                numbers,
                columns,
                kinds,
                sides,
                frames,
                roots,
                boxes,
                sways,
                skins,
                turns,
                shapes,
                c,
                i,
                path[0],
                path[1],
                path[2],
                span,
            )
            close = close or nears[c]
        if not close:
            continue
        at, until, happened, touched, touches = 0.0, dt, 0, False, 0
        # by how many it is held up, which contacts they are
        held = 0
        one_of = -1
        other_of = -1
        stalled = 0
        rests = False
        while True:
            best, which, passes = math.inf, -1, False
            for c in range(contacts):
                a = FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c
                if (not nears[c] and happened == 0) or not _contact_number(where, numbers, columns, a + ACTS, i) > 0.5:
                    continue
                by = _supports_of(holds, held, one_of, other_of, c, off)
                if by > 0 and kinds[c] != MESH:
                    continue
                radius = max(_contact_number(where, numbers, columns, a + RADIUS, i), skins[c])
                hit, through = _first_touch(
                    c, world, shapes[c], roots[c], path, at, until, start, length, radius, sways[c], by, rests, room
                )
                if hit < best:
                    best, which, passes = hit, c, through
            if passes:  # what it lies on turns under it: it is put there again before that would go through it
                until, which = best, -1
            ends = which < 0
            if ends and held == 0 and not touched:
                break  # it meets nothing: as its pushes have it
            s = (until if ends else best) - at
            x, vx = path[0] + path[3] * s + path[6] * s * s / 2, path[3] + path[6] * s
            y, vy = path[1] + path[4] * s + path[7] * s * s / 2, path[4] + path[7] * s
            z, vz = path[2] + path[5] * s + path[8] * s * s / 2, path[5] + path[8] * s
            at += s
            if ends and held == 0:
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, vx, vy, vz
                break
            c = one_of if ends else which
            a = FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c
            happened += 1
            stalled = stalled + 1 if s <= 1e-12 * length else 0
            radius = max(_contact_number(where, numbers, columns, a + RADIUS, i), skins[c])
            tau = (start + at) / length
            by = 0 if ends else _supports_of(holds, held, one_of, other_of, c, off)
            reach = 4 * radius + sways[c] + 0.01
            gap_to(c, world, shapes[c], roots[c], x, y, z, vx, vy, vz, tau, length, reach, radius, by, room)
            if by > 0 and not gap[0] < math.inf:
                gap_to(c, world, shapes[c], roots[c], x, y, z, vx, vy, vz, tau, length, reach, radius, 0, room)
            if ends and gap[0] > radius + 1e-5 * (1.0 + max(abs(x), abs(y), abs(z))):  # it slid off
                if at >= dt or happened > 2 * MAX_BOUNCES:
                    out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, vx, vy, vz
                    break
                path[0] = x
                path[1] = y
                path[2] = z
                path[3] = vx
                path[4] = vy
                path[5] = vz
                path[6] = px
                path[7] = py
                path[8] = pz
                held, rests, until = 0, False, dt
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
            rubs = _friction_of(where, numbers, columns, c, i)
            lively = max(
                _contact_number(where, numbers, columns, a + BOUNCE, i)
                * _contact_number(where, numbers, columns, RESTITUTION_SCALE, i),
                0.0,
            )
            small = abs(press) * 5e-4 + 1e-6  # a speed that is none: half a millisecond of what presses it on
            struck = not ends and speed < -small
            fresh = struck or not (was or touched or ends)
            touched = True
            if fresh:
                count += 1.0
                out[8, i], out[9, i], out[10, i] = dt - at, fast, math.atan2(side, max(-speed, 0.0))
                out[22, i], out[23, i], out[24, i] = x, y, z
            out[11, i], out[12, i], out[13, i], out[14, i] = nx, ny, nz, c + 1.0
            out[15, i], out[16, i], out[17, i] = gap[7], gap[8], gap[9]
            stick = _contact_number(where, numbers, columns, a + STICK, i)
            if (
                fresh
                and stick > 0.0
                and fast <= _contact_number(where, numbers, columns, a + BELOW, i)
                and _draw(keys[i], count, 2 * c) < stick
            ):
                left = dt - at
                out[0, i] = x + ux * left
                out[1, i] = y + uy * left
                out[2, i] = z + uz * left
                out[3, i] = ux
                out[4, i] = uy
                out[5, i] = uz
                _record_touch(out, i, touches, ux, uy, uz)
                out[18, i] = c + 1.0
                if kinds[c] == MESH:
                    f = int(gap[7])
                    for k in range(3):
                        _corner(one, other, f, k, tau, t)
                    out[18, i] = math.copysign(c + 1.0, _facing(t, nx, ny, nz))
                    out[19, i], out[20, i], out[21, i] = gap[7], gap[8], gap[9]
                else:
                    dx = x + ux * left - frames[c, 1, 9]
                    dy = y + uy * left - frames[c, 1, 10]
                    dz = z + uz * left - frames[c, 1, 11]
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
                back = speed  # it was in it, and leaves it
            none = NEGLIGIBLE * (abs(px) + abs(py) + abs(pz))
            if (
                back > small or (back > NEGLIGIBLE * (1.0 + fast) and press >= 0.0 and stalled < 2)
            ) and happened < MAX_BOUNCES:
                ox, oy, oz = tx + back * nx, ty + back * ny, tz + back * nz
                rough = _contact_number(where, numbers, columns, a + ROUGH, i)
                if rough > 0.0 and struck:
                    ox, oy, oz = _scatter(
                        ox, oy, oz, nx, ny, nz, rough, _draw(keys[i], count, 1001), _draw(keys[i], count, 1002)
                    )
                held, rests, until = 0, False, dt
                path[0], path[1], path[2], path[3], path[4], path[5] = x, y, z, ux + ox, uy + oy, uz + oz
                path[6], path[7], path[8] = px, py, pz
            else:  # along it, as pushes take it and friction holds it back, up to a stop
                until, also = dt, -1
                rub, mx, my, mz, wx, wy, wz = rubs * max(-press, 0.0), 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
                ax, ay, az = px - press * nx, py - press * ny, pz - press * nz
                for k in range(0 if ends else held):  # it slid along something else before: is it held between them?
                    gx = holds[k, 0]
                    gy = holds[k, 1]
                    gz = holds[k, 2]
                    qx = holds[k, 3]
                    qy = holds[k, 4]
                    qz = holds[k, 5]
                    same = nx * gx + ny * gy + nz * gz
                    wide = 1.0 - same * same
                    if wide < 1e-3:
                        continue
                    away = (ux + tx - qx) * gx + (uy + ty - qy) * gy + (uz + tz - qz) * gz
                    if away > small:
                        continue
                    if away < 0.0:  # no further into it, along both
                        tx = tx - (gx - same * nx) * away / wide
                        ty = ty - (gy - same * ny) * away / wide
                        tz = tz - (gz - same * nz) * away / wide
                    against = px * gx + py * gy + pz * gz
                    # how hard each presses back
                    here = (same * against - press) / wide
                    there = (same * press - against) / wide
                    if also >= 0 or there < -none:
                        continue
                    slides = _friction_of(where, numbers, columns, one_of if k == 0 else other_of, i)
                    if here < -none:  # only the other does
                        also, rub = k, slides * max(-against, 0.0)
                        ax, ay, az = px - against * gx, py - against * gy, pz - against * gz
                        wx, wy, wz = gx, gy, gz
                        continue
                    also, rub = k, rubs * max(here, 0.0) + slides * max(there, 0.0)
                    ax, ay, az = px + here * nx + there * gx, py + here * ny + there * gy, pz + here * nz + there * gz
                    mx, my, mz, wx, wy, wz = nx, ny, nz, gx, gy, gz
                side = math.sqrt(tx * tx + ty * ty + tz * tz)
                drive = math.sqrt(ax * ax + ay * ay + az * az)
                free = (
                    press > none and also < 0 and happened < MAX_BOUNCES and stalled == 0
                )  # what turns may follow what leaves it
                if free:
                    ax, ay, az = px, py, pz
                elif side <= 1e-7:
                    tx, ty, tz = 0.0, 0.0, 0.0
                    share = (drive - rub) / drive if drive > rub else 0.0
                    ax, ay, az = ax * share, ay * share, az * share
                else:
                    ax, ay, az = ax - rub * tx / side, ay - rub * ty / side, az - rub * tz / side
                    slows = -(ax * tx + ay * ty + az * tz) / side
                    if rub > 0.0 and slows > 0.0 and side / slows < dt - at:
                        until = at + side / slows
                rests = not free and stalled > MAX_STOPS_AT_ONE_TIME
                if rests:
                    tx, ty, tz, ax, ay, az = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
                    until = dt
                if free:
                    held = 0
                elif also < 0:
                    held, one_of, other_of = 1, c, -1
                    _add_support(holds, 0, nx, ny, nz, ux, uy, uz)
                else:
                    qx, qy, qz = holds[also, 3], holds[also, 4], holds[also, 5]
                    of = one_of if also == 0 else other_of
                    if mx == 0.0 and my == 0.0 and mz == 0.0:
                        held, one_of, other_of = 1, of, -1
                        _add_support(holds, 0, wx, wy, wz, qx, qy, qz)
                    else:
                        held, one_of, other_of = 2, c, of
                        _add_support(holds, 0, nx, ny, nz, ux, uy, uz)
                        _add_support(holds, 1, wx, wy, wz, qx, qy, qz)
                path[0], path[1], path[2], path[3], path[4], path[5] = x, y, z, ux + tx, uy + ty, uz + tz
                path[6], path[7], path[8] = ax, ay, az
            if fresh:
                _record_touch(out, i, touches, path[3], path[4], path[5])
                touches += 1
            if at >= dt or happened > 2 * MAX_BOUNCES:
                if (
                    at < dt and kinds[c] == MESH
                ):  # ever smaller steps between two faces: for the rest of it, it goes along with the one it is at
                    x, y, z = _place_moved_with_triangle(int(gap[7]), gap[8], gap[9], other, nx, ny, nz, radius)
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, path[3], path[4], path[5]
                break
        out[6, i] = 1.0 if touched else 0.0
        out[7, i] = count
