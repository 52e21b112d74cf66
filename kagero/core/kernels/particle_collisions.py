"""Collisions among particles: positions are separated and velocities corrected in rounds, each computed from the round
before.

Position-based, with the relaxed mean of the corrections of all neighbours: Macklin, Müller, Chentanez and Kim, "Unified
particle physics for real-time applications", ACM Transactions on Graphics 33 (2014). Velocities follow Newton's law of
restitution and Coulomb's friction for each pair; with several contacts at once each pair applies the share that the
busier of the two can take, so that momentum is conserved.
"""

from __future__ import annotations

import math

from .compiled import kernel
from .neighbours import _step

MAX_PARTNERS = 32  # of those that one particle meets at once
OVER_RELAXATION = 1.5  # how much more than the mean of what is asked of it a particle goes: as that paper has it
SKIN = 1e-4  # of both radii: what still counts as touching


@kernel(error_model="numpy")
def list_partners(packed, size, dims, start, order, reach, first, last, listed, counts):
    """Write the possible collision partners of the particles first..last - 1 of the order: listed (n, MAX_PARTNERS)
    int32, counts (n,) int32.

    packed, size, dims, start, order: from `neighbours.grid`, with the particles' radii. reach: margin beyond both
    radii, m.
    """
    wide, high, deep = dims[0], dims[1], dims[2]
    for i in range(first, last):
        x, y, z, r = float(packed[i, 0]), float(packed[i, 1]), float(packed[i, 2]), float(packed[i, 6])
        mine, found = order[i], 0
        if r > 0.0:
            ci, cj, ck = _step(packed[i, 0], size), _step(packed[i, 1], size), _step(packed[i, 2], size)
            for dk in range(-1, 2):
                for dj in range(-1, 2):
                    for di in range(-1, 2):
                        cell = (((ck + dk) & (deep - 1)) * high + ((cj + dj) & (high - 1))) * wide + (
                            (ci + di) & (wide - 1)
                        )
                        for j in range(start[cell], start[cell + 1]):
                            both = r + float(packed[j, 6]) + reach
                            gx, gy, gz = float(packed[j, 0]) - x, float(packed[j, 1]) - y, float(packed[j, 2]) - z
                            if (
                                j != i
                                and packed[j, 6] > 0.0
                                and gx * gx + gy * gy + gz * gz < both * both
                                and found < MAX_PARTNERS
                            ):
                                listed[mine, found] = order[j]
                                found += 1
        counts[mine] = found


@kernel(error_model="numpy")
def project_positions(place, before, radius, inverse, friction, wall, listed, counts, first, last, out, met):
    """Write positions after one round of separation, out (3, n), and the number of touching particles met (n,), the
    largest of all rounds.

    place: (3, n) float64, m. before: positions before the first round; friction limits the displacement since then
    across each pair's line and along a wall. radius, inverse: (n,), radius and inverse mass. wall: (3, n), normal of a
    surface that a particle lies on and is not pushed into; zero for none.
    """
    for i in range(first, last):
        x, y, z = place[0, i], place[1, i], place[2, i]
        cx, cy, cz, asked, touches = 0.0, 0.0, 0.0, 0, 0
        for k in range(counts[i]):
            j = listed[i, k]
            gx, gy, gz = x - place[0, j], y - place[1, j], z - place[2, j]
            both, away = radius[i] + radius[j], math.sqrt(gx * gx + gy * gy + gz * gz)
            weight = inverse[i] + inverse[j]
            if away < both * (1.0 + SKIN):
                touches += 1
            if not away < both or not weight > 0.0:
                continue
            if away > 1e-12:
                gx, gy, gz = gx / away, gy / away, gz / away
            else:  # in one place: apart by which comes first
                gx, gy, gz = 0.0, 1.0 if i < j else -1.0, 0.0
            deep = (both - away) * inverse[i] / weight
            ux = (x - before[0, i]) - (place[0, j] - before[0, j])
            uy = (y - before[1, i]) - (place[1, j] - before[1, j])
            uz = (z - before[2, i]) - (place[2, j] - before[2, j])
            along = ux * gx + uy * gy + uz * gz
            ux, uy, uz = ux - along * gx, uy - along * gy, uz - along * gz
            side = math.sqrt(ux * ux + uy * uy + uz * uz)
            holds = (
                min((friction[i] + friction[j]) / 2 * (both - away), side) / side * inverse[i] / weight
                if side > 0.0
                else 0.0
            )
            cx = cx + gx * deep - ux * holds
            cy = cy + gy * deep - uy * holds
            cz = cz + gz * deep - uz * holds
            asked = asked + 1
        if asked > 0:
            share = min(OVER_RELAXATION, asked) / asked
            cx, cy, cz = cx * share, cy * share, cz * share
            into = cx * wall[0, i] + cy * wall[1, i] + cz * wall[2, i]
            if into < 0.0:
                cx, cy, cz = cx - into * wall[0, i], cy - into * wall[1, i], cz - into * wall[2, i]
                ux, uy, uz = x + cx - before[0, i], y + cy - before[1, i], z + cz - before[2, i]
                along = ux * wall[0, i] + uy * wall[1, i] + uz * wall[2, i]
                ux, uy, uz = ux - along * wall[0, i], uy - along * wall[1, i], uz - along * wall[2, i]
                side = math.sqrt(ux * ux + uy * uy + uz * uz)
                holds = min(friction[i] * -into, side) / side if side > 0.0 else 0.0
                cx, cy, cz = cx - ux * holds, cy - uy * holds, cz - uz * holds
        out[0, i], out[1, i], out[2, i] = x + cx, y + cy, z + cz
        met[i] = max(met[i], touches)


@kernel(error_model="numpy")
def count_approaching(place, velocity, radius, inverse, listed, counts, first, last, busy):
    """Write the number of touching neighbours that approach each particle, busy (n,)."""
    for i in range(first, last):
        busy[i] = 0
        for k in range(counts[i]):
            j = listed[i, k]
            gx, gy, gz = place[0, i] - place[0, j], place[1, i] - place[1, j], place[2, i] - place[2, j]
            both = (radius[i] + radius[j]) * (1.0 + SKIN)
            if gx * gx + gy * gy + gz * gz < both * both and inverse[i] + inverse[j] > 0.0:
                toward = (
                    (velocity[0, i] - velocity[0, j]) * gx
                    + (velocity[1, i] - velocity[1, j]) * gy
                    + (velocity[2, i] - velocity[2, j]) * gz
                )
                busy[i] += toward < 0.0


@kernel(error_model="numpy")
def apply_impulses(
    place, velocity, radius, inverse, bounce, friction, rest, wall, lively, listed, counts, busy, first, last, out
):
    """Write velocities after collisions with approaching neighbours, out (3, n), m/s.

    place: positions at the collision. lively: with restitution; otherwise approaching velocities are only stopped. A
    pair's restitution and friction are the means of both. A pair no faster than the forces of this step made it rests.
    """
    for i in range(first, last):
        vx, vy, vz = velocity[0, i], velocity[1, i], velocity[2, i]
        dx, dy, dz = 0.0, 0.0, 0.0
        for k in range(counts[i] if busy[i] > 0 else 0):
            j = listed[i, k]
            gx, gy, gz = place[0, i] - place[0, j], place[1, i] - place[1, j], place[2, i] - place[2, j]
            both, away = (radius[i] + radius[j]) * (1.0 + SKIN), math.sqrt(gx * gx + gy * gy + gz * gz)
            weight = inverse[i] + inverse[j]
            if not away < both or not weight > 0.0:
                continue
            if away > 1e-12:
                gx, gy, gz = gx / away, gy / away, gz / away
            else:
                gx, gy, gz = 0.0, 1.0 if i < j else -1.0, 0.0
            ux, uy, uz = vx - velocity[0, j], vy - velocity[1, j], vz - velocity[2, j]
            toward = ux * gx + uy * gy + uz * gz
            if not toward < 0.0:
                continue
            back = (bounce[i] + bounce[j]) / 2 if lively and -toward > 1.5 * (rest[i] + rest[j]) else 0.0
            gives = -(1.0 + back) * toward
            tx, ty, tz = ux - toward * gx, uy - toward * gy, uz - toward * gz
            side = math.sqrt(tx * tx + ty * ty + tz * tz)
            took = min((friction[i] + friction[j]) / 2 * gives, side) / side if side > 0.0 else 0.0
            part = inverse[i] / weight / max(busy[i], busy[j])
            dx += part * (gives * gx - took * tx)
            dy += part * (gives * gy - took * ty)
            dz += part * (gives * gz - took * tz)
        into = (vx + dx) * wall[0, i] + (vy + dy) * wall[1, i] + (vz + dz) * wall[2, i]
        was = vx * wall[0, i] + vy * wall[1, i] + vz * wall[2, i]
        if into < 0.0 and into < was:  # it is held up by what it lies on
            less = into - min(was, 0.0)
            dx, dy, dz = dx - less * wall[0, i], dy - less * wall[1, i], dz - less * wall[2, i]
            along = dx * wall[0, i] + dy * wall[1, i] + dz * wall[2, i]
            tx, ty, tz = dx - along * wall[0, i], dy - along * wall[1, i], dz - along * wall[2, i]
            side = math.sqrt(tx * tx + ty * ty + tz * tz)
            took = (
                min(friction[i] * -less, side) / side if side > 0.0 else 0.0
            )  # rubbing there against being pushed along it
            dx, dy, dz = dx - took * tx, dy - took * ty, dz - took * tz
        out[0, i], out[1, i], out[2, i] = vx + dx, vy + dy, vz + dz
