"""Particles that meet things within a step, each at its own moment: how they get there, where they bounce, slide, stick and rest.

A particle is a ball about its place. Its path through a step is the parabola through both ends of the step with the velocity it began with; what it
meets moves evenly over the step. Where it first comes as near as its radius is found by `touching`. There it is answered by Newton's rule of impact
and Coulomb's friction (any handbook of mechanics); it goes on from there with what is left of the step, as often as it must. One that would bounce
less than can be told rests, and slides until friction stops it: along one thing or between two, of which other faces of the same mesh may be
one. What it slides along is not met meanwhile, but is not gone through either: where a mesh turns under it, it is put there again before that.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numba import uint64

from .bvh import _box_distance
from .compiled import kernel
from .contact_distance import BALL, BOX, MESH, ROD, _corner, gap_to, shape_gap
from .contact_response import _along_with, _strewn
from .random import _mix
from .time_of_impact import ALMOST, _first

_UNCOUNTED: Any = {"error_model": "numpy", "_nrt": False}
# what is given of all particles: place, velocity as the step began and as it ended, its length, factors, what was before
X0, V0, X1, V1, DT, RESTITUTION_SCALE, FRICTION_SCALE, TOUCHED, COUNT, STUCK, HELD = (
    0,
    3,
    6,
    9,
    12,
    13,
    14,
    15,
    16,
    17,
    18,
)
BASE = 21
# and of each contact
BOUNCE, FRICTION, STICK, BELOW, RADIUS, ROUGH, ACTS, SHAPE = range(8)
EACH = 13
# place, velocity, touching, count; of its last touch seconds ago, speed, angle, normal, which, face, two shares of its corners; stuck, where (3);
# and where it was as it touched. Only where they are asked for: how fast it left it (from PLAIN on), and each touch of the step (from OUT on)
PLAIN, OUT, LAST, THEN = 25, 28, 8, 22
TOUCHES, TOUCH = (
    8,
    16,
)  # touches of a step that are told one by one, and numbers of each: those from LAST on (10) and from THEN on (6)
MOST = 1_000  # times that a particle bounces within a step; and as often again that it goes on along something
STALLED = 8  # times at one moment that it is stopped by one thing after the other: it rests between them
DEPTH = 96
STUCK_NOW = 1000.0  # as `rows.contact_state` has it


@kernel(**_UNCOUNTED)
def _given(where, numbers, columns, a, i):
    return float(columns[where[a], i]) if where[a] >= 0 else numbers[a]


@kernel(**_UNCOUNTED)
def _stands(where, numbers, columns, kinds, scales, c, i, shapes):
    """Write what a contact's shape is for a particle, in metres: its numbers, grown as its prop is."""
    for k in range(6):
        shapes[c, k] = _given(where, numbers, columns, BASE + EACH * c + SHAPE + k, i)
    if kinds[c] == MESH:
        return
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


@kernel(**_UNCOUNTED)
def _up(t, nx, ny, nz):
    """Return how much a triangle faces along a direction: less than nought, its back does."""
    ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
    bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
    return nx * (ay * bz - az * by) + ny * (az * bx - ax * bz) + nz * (ax * by - ay * bx)


@kernel(**_UNCOUNTED)
def _draw(key, count, what):
    z = _mix(_mix(key + uint64(0x9E3779B97F4A7C15)) ^ (uint64(count) * uint64(0xD1342543DE82EF95) + uint64(what)))
    return float(z >> uint64(11)) / 9007199254740992.0


@kernel(**_UNCOUNTED)
def _near(
    where, numbers, columns, kinds, sides, frames, roots, boxes, sways, skins, turns, shapes, c, i, x, y, z, span
):
    """Return whether a particle, at a place, may come to a contact on its path through a step, of a length span (m) at most."""
    radius = max(_given(where, numbers, columns, BASE + EACH * c + RADIUS, i), skins[c])
    if kinds[c] == MESH:
        return math.sqrt(_box_distance(boxes[roots[c]], x, y, z)) <= span + radius
    a = frames[c, 0]
    dx, dy, dz = x - a[9], y - a[10], z - a[11]
    lx, ly, lz = a[0] * dx + a[3] * dy + a[6] * dz, a[1] * dx + a[4] * dy + a[7] * dz, a[2] * dx + a[5] * dy + a[8] * dz
    away = shape_gap(kinds[c], sides[c], shapes[c], lx, ly, lz)[0]
    return away <= radius + span + sways[c] + turns[c] * math.sqrt(lx * lx + ly * ly + lz * lz) + 1e-5


@kernel(**_UNCOUNTED)
def _rubbing(where, numbers, columns, c, i):
    """Return a contact's friction for a particle."""
    return max(
        _given(where, numbers, columns, BASE + EACH * c + FRICTION, i)
        * _given(where, numbers, columns, FRICTION_SCALE, i),
        0.0,
    )


@kernel(**_UNCOUNTED)
def _hold(holds, k, nx, ny, nz, ux, uy, uz):
    """Note what holds a particle up: from which direction, and how fast it moves there."""
    holds[k, 0], holds[k, 1], holds[k, 2], holds[k, 3], holds[k, 4], holds[k, 5] = nx, ny, nz, ux, uy, uz


@kernel(**_UNCOUNTED)
def _tell(out, i, touch, vx, vy, vz):
    """Write how fast a particle leaves its last touch, and all of that touch among those of the step, where there is room for so many."""
    if out.shape[0] == PLAIN:
        return
    out[THEN + 3, i], out[THEN + 4, i], out[THEN + 5, i] = vx, vy, vz
    first = OUT + TOUCH * touch
    if first + TOUCH <= out.shape[0]:
        for k in range(10):
            out[first + k, i] = out[LAST + k, i]
        for k in range(6):
            out[first + 10 + k, i] = out[THEN + k, i]


@kernel(**_UNCOUNTED)
def _holding(holds, held, one_of, other_of, c, off):
    """Write from which directions a contact holds a particle up; return how many they are."""
    count = 0
    for k in range(held):
        if (one_of if k == 0 else other_of) == c:
            off[count, 0], off[count, 1], off[count, 2] = holds[k, 0], holds[k, 1], holds[k, 2]
            count += 1
    return count


def room_for(contacts: int) -> tuple[np.ndarray, ...]:
    """Return the room that `meet` works in."""
    return (
        np.empty(DEPTH, np.int64),
        np.empty(DEPTH),
        np.empty((3, 3)),
        np.empty(10),
        np.empty((2, 3)),
        np.empty((64, 7)),
        np.empty((2, 6)),
        np.empty(9),
        np.zeros((max(contacts, 1), 6)),
        np.zeros(max(contacts, 1), np.bool_),
    )


@kernel(**_UNCOUNTED, writes="stack near t gap off bern holds path shapes nears out")
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
    """Take particles through a step in which they may meet contacts; write what comes of it into out (PLAIN, n) float32, which holds what is so
    where they meet nothing: place and velocity as the step has them, how often they touched, -1 seconds ago, nought else. Where it has OUT
    rows, how fast they leave their last touch is written too; where it has OUT + TOUCHES * TOUCH, each of the first touches of the step as well.

    where, numbers: of each argument, BASE and then EACH of every contact, its row of columns (K, n) float32, or -1 and the number that all share.
    keys: (n,) uint64. kinds, sides (C,): of contacts, and 1 or -1, off their outside or inside. frames: (C, 2, 12), turn and place of each as the
    whole step begins and ends; scales (C, 3), by how much it is larger. roots (C,): of meshes the root of their tree, boxes, links, order as of
    `kernels.bvh`, boxes round both ends; one, other: corners of triangles (F, 3, 3) as the step begins and ends; sways (C,): how far they go
    at most, metres; skins: how thin a particle is at least; turns: how far a metre of them turns. length: of the whole step, seconds. stack,
    near, t, gap, off, bern, holds, path, shapes, nears: room (`room_for`).
    """
    world, room, contacts = (
        (kinds, sides, frames, boxes, links, order, one, other),
        (stack, near, t, gap, off, bern),
        len(kinds),
    )
    fixed = True  # what is the same for all particles
    for c in range(contacts):
        for k in range(SHAPE, EACH):
            fixed = fixed and where[BASE + EACH * c + k] < 0
    if fixed:
        for c in range(contacts):
            _stands(where, numbers, columns, kinds, scales, c, 0, shapes)
    sticky = where[STUCK] >= 0
    for i in range(out.shape[1]):
        dt = _given(where, numbers, columns, DT, i)
        count = _given(where, numbers, columns, COUNT, i)
        was = _given(where, numbers, columns, TOUCHED, i) > 0.5
        if not dt > 0.0:
            for k in range(STUCK, BASE):
                out[18 + k - STUCK, i] = _given(where, numbers, columns, k, i)
            out[6, i] = 1.0 if was else 0.0
            continue
        start = length - dt
        stuck = _given(where, numbers, columns, STUCK, i) if sticky else 0.0
        if not fixed:
            for c in range(contacts):
                _stands(where, numbers, columns, kinds, scales, c, i, shapes)
        if stuck >= STUCK_NOW:  # it is to stick to what it touches: where it is now
            c = int(stuck - STUCK_NOW) - 1
            stuck = 0.0
            if 0 <= c < contacts:
                x, y, z = (
                    _given(where, numbers, columns, X0, i),
                    _given(where, numbers, columns, X0 + 1, i),
                    _given(where, numbers, columns, X0 + 2, i),
                )
                radius = max(_given(where, numbers, columns, BASE + EACH * c + RADIUS, i), skins[c])
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
                        stuck = math.copysign(stuck, _up(t, gap[1], gap[2], gap[3]))
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
                there = 0.0 <= _given(where, numbers, columns, HELD, i) < len(one)
            if there and _given(where, numbers, columns, BASE + EACH * c + ACTS, i) > 0.5:
                h0, h1, h2 = (
                    _given(where, numbers, columns, HELD, i),
                    _given(where, numbers, columns, HELD + 1, i),
                    _given(where, numbers, columns, HELD + 2, i),
                )
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
                        max(_given(where, numbers, columns, BASE + EACH * c + RADIUS, i), skins[c])
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
            x0, v0 = _given(where, numbers, columns, X0 + k, i), _given(where, numbers, columns, V0 + k, i)
            push = (_given(where, numbers, columns, V1 + k, i) - v0) / dt
            astray = _given(where, numbers, columns, X1 + k, i) - (x0 + v0 * dt + push * dt * dt / 2)
            if abs(astray) <= 4e-7 * (1.0 + abs(x0)):  # no more than rounding
                astray = 0.0
            path[k], path[3 + k], path[6 + k] = x0, v0 + astray / dt, push
        px, py, pz = path[6], path[7], path[8]  # what pushes it, all along the step
        # whom it cannot come near in this step
        bend = math.sqrt(px * px + py * py + pz * pz) * dt * dt / 2
        span = math.sqrt(path[3] * path[3] + path[4] * path[4] + path[5] * path[5]) * dt + bend
        close = False
        for c in range(contacts):
            nears[c] = _near(
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
        held, one_of, other_of, stalled, rests = (
            0,
            -1,
            -1,
            0,
            False,
        )  # by how many it is held up, which contacts they are
        while True:
            best, which, passes = math.inf, -1, False
            for c in range(contacts):
                a = BASE + EACH * c
                if (not nears[c] and happened == 0) or not _given(where, numbers, columns, a + ACTS, i) > 0.5:
                    continue
                by = _holding(holds, held, one_of, other_of, c, off)
                if by > 0 and kinds[c] != MESH:
                    continue
                radius = max(_given(where, numbers, columns, a + RADIUS, i), skins[c])
                hit, through = _first(
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
            a = BASE + EACH * c
            happened += 1
            stalled = stalled + 1 if s <= 1e-12 * length else 0
            radius = max(_given(where, numbers, columns, a + RADIUS, i), skins[c])
            tau = (start + at) / length
            by = 0 if ends else _holding(holds, held, one_of, other_of, c, off)
            reach = 4 * radius + sways[c] + 0.01
            gap_to(c, world, shapes[c], roots[c], x, y, z, vx, vy, vz, tau, length, reach, radius, by, room)
            if by > 0 and not gap[0] < math.inf:
                gap_to(c, world, shapes[c], roots[c], x, y, z, vx, vy, vz, tau, length, reach, radius, 0, room)
            if ends and gap[0] > radius + 1e-5 * (1.0 + max(abs(x), abs(y), abs(z))):  # it slid off
                if at >= dt or happened > 2 * MOST:
                    out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, vx, vy, vz
                    break
                path[0], path[1], path[2], path[3], path[4], path[5], path[6], path[7], path[8] = (
                    x,
                    y,
                    z,
                    vx,
                    vy,
                    vz,
                    px,
                    py,
                    pz,
                )
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
            rubs = _rubbing(where, numbers, columns, c, i)
            lively = max(
                _given(where, numbers, columns, a + BOUNCE, i) * _given(where, numbers, columns, RESTITUTION_SCALE, i),
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
            stick = _given(where, numbers, columns, a + STICK, i)
            if (
                fresh
                and stick > 0.0
                and fast <= _given(where, numbers, columns, a + BELOW, i)
                and _draw(keys[i], count, 2 * c) < stick
            ):
                left = dt - at
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = (
                    x + ux * left,
                    y + uy * left,
                    z + uz * left,
                    ux,
                    uy,
                    uz,
                )
                _tell(out, i, touches, ux, uy, uz)
                out[18, i] = c + 1.0
                if kinds[c] == MESH:
                    f = int(gap[7])
                    for k in range(3):
                        _corner(one, other, f, k, tau, t)
                    out[18, i] = math.copysign(c + 1.0, _up(t, nx, ny, nz))
                    out[19, i], out[20, i], out[21, i] = gap[7], gap[8], gap[9]
                else:
                    dx, dy, dz = (
                        x + ux * left - frames[c, 1, 9],
                        y + uy * left - frames[c, 1, 10],
                        z + uz * left - frames[c, 1, 11],
                    )
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
            none = ALMOST * (abs(px) + abs(py) + abs(pz))
            if (back > small or (back > ALMOST * (1.0 + fast) and press >= 0.0 and stalled < 2)) and happened < MOST:
                ox, oy, oz = tx + back * nx, ty + back * ny, tz + back * nz
                rough = _given(where, numbers, columns, a + ROUGH, i)
                if rough > 0.0 and struck:
                    ox, oy, oz = _strewn(
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
                    gx, gy, gz, qx, qy, qz = (
                        holds[k, 0],
                        holds[k, 1],
                        holds[k, 2],
                        holds[k, 3],
                        holds[k, 4],
                        holds[k, 5],
                    )
                    same = nx * gx + ny * gy + nz * gz
                    wide = 1.0 - same * same
                    if wide < 1e-3:
                        continue
                    away = (ux + tx - qx) * gx + (uy + ty - qy) * gy + (uz + tz - qz) * gz
                    if away > small:
                        continue
                    if away < 0.0:  # no further into it, along both
                        tx, ty, tz = (
                            tx - (gx - same * nx) * away / wide,
                            ty - (gy - same * ny) * away / wide,
                            tz - (gz - same * nz) * away / wide,
                        )
                    against = px * gx + py * gy + pz * gz
                    here, there = (
                        (same * against - press) / wide,
                        (same * press - against) / wide,
                    )  # how hard each presses back
                    if also >= 0 or there < -none:
                        continue
                    slides = _rubbing(where, numbers, columns, one_of if k == 0 else other_of, i)
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
                    press > none and also < 0 and happened < MOST and stalled == 0
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
                rests = not free and stalled > STALLED
                if rests:
                    tx, ty, tz, ax, ay, az = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
                    until = dt
                if free:
                    held = 0
                elif also < 0:
                    held, one_of, other_of = 1, c, -1
                    _hold(holds, 0, nx, ny, nz, ux, uy, uz)
                else:
                    qx, qy, qz = holds[also, 3], holds[also, 4], holds[also, 5]
                    of = one_of if also == 0 else other_of
                    if mx == 0.0 and my == 0.0 and mz == 0.0:
                        held, one_of, other_of = 1, of, -1
                        _hold(holds, 0, wx, wy, wz, qx, qy, qz)
                    else:
                        held, one_of, other_of = 2, c, of
                        _hold(holds, 0, nx, ny, nz, ux, uy, uz)
                        _hold(holds, 1, wx, wy, wz, qx, qy, qz)
                path[0], path[1], path[2], path[3], path[4], path[5] = x, y, z, ux + tx, uy + ty, uz + tz
                path[6], path[7], path[8] = ax, ay, az
            if fresh:
                _tell(out, i, touches, path[3], path[4], path[5])
                touches += 1
            if at >= dt or happened > 2 * MOST:
                if (
                    at < dt and kinds[c] == MESH
                ):  # ever smaller steps between two faces: for the rest of it, it goes along with the one it is at
                    x, y, z = _along_with(int(gap[7]), gap[8], gap[9], other, nx, ny, nz, radius)
                out[0, i], out[1, i], out[2, i], out[3, i], out[4, i], out[5, i] = x, y, z, path[3], path[4], path[5]
                break
        out[6, i] = 1.0 if touched else 0.0
        out[7, i] = count
