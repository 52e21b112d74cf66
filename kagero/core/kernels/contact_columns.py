"""Columns that the contact kernel reads for each particle and contact, what it writes of each touch, and its small
helpers."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numba import uint64

from .bvh import _box_distance
from .compiled import kernel
from .contact_distance import shape_gap
from .contact_shapes import MESH, scale
from .random import _mix

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
# what is given of all particles: place, velocity as the step began and as it ended, its length, factors, what was
# before
X0 = 0
V0 = 3
X1 = 6
V1 = 9
DT = 12
RESTITUTION_SCALE = 13
FRICTION_SCALE = 14
TOUCHED = 15
COUNT = 16
STUCK = 17
HELD = 18
FIRST_CONTACT_COLUMN = 21
# and of each contact
BOUNCE, FRICTION, STICK, BELOW, RADIUS, ROUGH, ACTS, SHAPE = range(8)
COLUMNS_PER_CONTACT = 13
# place, velocity, touching, count; of its last touch seconds ago, speed, angle, normal, which, face, two shares of its
# corners; stuck, where (3);
# and where it was as it touched. Only where they are asked for: how fast it left it (from PLAIN on), and each touch of
# the step (from OUT on)
PLAIN, OUT, LAST, THEN = 25, 28, 8, 22
# touches of a step that are told one by one, and numbers of each: those from LAST on (10) and from THEN on (6)
TOUCHES = 8
TOUCH = 16
STUCK_NOW = 1000.0  # as `rows.contact_state` has it
STACK_DEPTH = 96  # nodes of a tree that wait to be looked at


@kernel(**_OPTIONS)
def _contact_number(where, numbers, columns, a, i):
    return float(columns[where[a], i]) if where[a] >= 0 else numbers[a]


@kernel(**_OPTIONS)
def _load_shape(where, numbers, columns, kinds, scales, c, i, shapes):
    """Write the numbers of a contact's shape for a particle, metres, scaled as its prop is."""
    for k in range(6):
        shapes[c, k] = _contact_number(
            where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + SHAPE + k, i
        )
    if kinds[c] == MESH:
        return
    for k in range(3):
        shapes[c, k] *= scales[c, k]
    scale(kinds[c], shapes[c], scales[c, 0], scales[c, 1], scales[c, 2])


@kernel(**_OPTIONS)
def _may_reach(
    where, numbers, columns, kinds, sides, frames, roots, boxes, sways, skins, turns, shapes, c, i, x, y, z, span
):
    """Return whether a particle may come to a contact from a position, on a path through the step of at most `span`
    metres."""
    radius = max(
        _contact_number(where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + RADIUS, i), skins[c]
    )
    if kinds[c] == MESH:
        return math.sqrt(_box_distance(boxes[roots[c]], x, y, z)) <= span + radius
    a = frames[c, 0]
    dx, dy, dz = x - a[9], y - a[10], z - a[11]
    lx, ly, lz = a[0] * dx + a[3] * dy + a[6] * dz, a[1] * dx + a[4] * dy + a[7] * dz, a[2] * dx + a[5] * dy + a[8] * dz
    away = shape_gap(kinds[c], sides[c], shapes[c], lx, ly, lz)[0]
    return away <= radius + span + sways[c] + turns[c] * math.sqrt(lx * lx + ly * ly + lz * lz) + 1e-5


@kernel(**_OPTIONS)
def _friction_of(where, numbers, columns, c, i):
    """Return a contact's coefficient of friction for a particle."""
    return max(
        _contact_number(where, numbers, columns, FIRST_CONTACT_COLUMN + COLUMNS_PER_CONTACT * c + FRICTION, i)
        * _contact_number(where, numbers, columns, FRICTION_SCALE, i),
        0.0,
    )


@kernel(**_OPTIONS)
def _add_support(holds, k, nx, ny, nz, ux, uy, uz):
    """Store support k of a particle: the normal of the surface that holds it up, and that surface's velocity."""
    holds[k, 0], holds[k, 1], holds[k, 2], holds[k, 3], holds[k, 4], holds[k, 5] = nx, ny, nz, ux, uy, uz


@kernel(**_OPTIONS)
def _record_touch(out, i, touch, vx, vy, vz):
    """Write the velocity with which a particle leaves its last touch, and all numbers of that touch among those of the
    step, where there is room."""
    if out.shape[0] == PLAIN:
        return
    out[THEN + 3, i], out[THEN + 4, i], out[THEN + 5, i] = vx, vy, vz
    first = OUT + TOUCH * touch
    if first + TOUCH <= out.shape[0]:
        for k in range(10):
            out[first + k, i] = out[LAST + k, i]
        for k in range(6):
            out[first + 10 + k, i] = out[THEN + k, i]


@kernel(**_OPTIONS)
def _supports_of(holds, held, one_of, other_of, c, off):
    """Write the normals of the supports that belong to one contact; return their number."""
    count = 0
    for k in range(held):
        if (one_of if k == 0 else other_of) == c:
            off[count, 0], off[count, 1], off[count, 2] = holds[k, 0], holds[k, 1], holds[k, 2]
            count += 1
    return count


@kernel(**_OPTIONS)
def _facing(t, nx, ny, nz):
    """Return how much a triangle faces a direction; negative: its back does."""
    ax, ay, az = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
    bx, by, bz = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
    return nx * (ay * bz - az * by) + ny * (az * bx - ax * bz) + nz * (ax * by - ay * bx)


@kernel(**_OPTIONS)
def _draw(key, count, what):
    z = _mix(_mix(key + uint64(0x9E3779B97F4A7C15)) ^ (uint64(count) * uint64(0xD1342543DE82EF95) + uint64(what)))
    return float(z >> uint64(11)) / 9007199254740992.0


def workspace_for(contacts: int) -> tuple[np.ndarray, ...]:
    """Return the working memory of `resolve_contacts` for a number of contacts."""
    return (
        np.empty(STACK_DEPTH, np.int64),
        np.empty(STACK_DEPTH),
        np.empty((3, 3)),
        np.empty(10),
        np.empty((2, 3)),
        np.empty((64, 7)),
        np.empty((2, 6)),
        np.empty(9),
        np.zeros((max(contacts, 1), 6)),
        np.zeros(max(contacts, 1), np.bool_),
    )
