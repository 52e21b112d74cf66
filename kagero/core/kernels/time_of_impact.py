"""Time of impact: when a particle on its path through a step first touches a contact.

Conservative advancement from tangent plane to tangent plane (no convex body lies before one), then the Illinois method
between two times (Dowell and Jarratt, BIT 11, 1971). Crossings of a mesh are the roots of signed volumes over its
moving triangles, polynomials of degree 4 of which every root is found (`contact_distance`), so that a particle never
changes sides. `tests/oracles/touching.py` is the reference.
"""

from __future__ import annotations

import math
from typing import Any

from .compiled import kernel
from .contact_distance import _first_crossing, gap_to
from .contact_shapes import MESH

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
NEGLIGIBLE = 1e-6  # a share of a speed, or of a push, that is none


@kernel(**_OPTIONS)
def _time_to_close(gap, speed, push):
    """Return the time until a gap closes that changes at a speed under constant acceleration; infinity for never."""
    if push >= 0.0 and speed >= 0.0:
        return math.inf
    under = speed * speed - 2.0 * push * gap
    if under < 0.0:
        return math.inf
    # of the two forms of the root, the one that takes no difference of what is almost the same
    return (speed + math.sqrt(under)) / -push if speed > 0.0 else 2.0 * gap / max(math.sqrt(under) - speed, 1e-300)


@kernel(**_OPTIONS)
def _first_touch(c, world, p, root, path, since, until, start, length, radius, sway, held, rests, room):
    """Return the first time at which the distance to a contact equals a radius, between two times (infinity: never),
    and whether the path crosses what supports the particle then.

    path, start: as in `contact_distance._first_crossing`. held: how many of the working memory's directions support the
    particle on this mesh; those surfaces are not met, but must not be crossed: the time returned is half way to the
    crossing. rests: the particle stays on its support and meets nothing else.
    """
    gap = room[3]
    h = until - since
    bend = math.sqrt(path[6] ** 2 + path[7] ** 2 + path[8] ** 2) * h * h / 2
    reach = radius + math.sqrt(path[3] ** 2 + path[4] ** 2 + path[5] ** 2) * h + bend + sway + 1e-6
    lo, g_lo, hi, g_hi, crossing, answer = since, 0.0, math.inf, -1.0, math.inf, math.inf
    passes = math.inf
    if held > 0:
        passes = _first_crossing(world, root, path, since, until, start, length, bend / 4 + 1e-9, room)
        if passes < math.inf:  # half way there, what holds it up is still at its side
            until, passes = since + (passes - since) / 2, since + (passes - since) / 2
        if rests:
            return passes, True
    # 0 as it begins, 1 as far as its tangent plane, 2 at the end, 3 off what it touched, 4 between
    moment = since
    doing = 0
    tries = 0
    last = 0
    while True:
        s = moment - since
        x = path[0] + path[3] * s + path[6] * s * s / 2
        y = path[1] + path[4] * s + path[7] * s * s / 2
        z = path[2] + path[5] * s + path[8] * s * s / 2
        vx, vy, vz = path[3] + path[6] * s, path[4] + path[7] * s, path[5] + path[8] * s
        gap_to(c, world, p, root, x, y, z, vx, vy, vz, (start + moment) / length, length, reach, radius, held, room)
        large = 1.0 + max(abs(x), abs(y), abs(z))
        value = gap[0] - radius
        speed = (vx - gap[4]) * gap[1] + (vy - gap[5]) * gap[2] + (vz - gap[6]) * gap[3]
        push = path[6] * gap[1] + path[7] * gap[2] + path[8] * gap[3]
        tries += 1
        if doing < 2:
            if doing == 0:
                if not gap[0] < math.inf:
                    break
                if value < -3e-7 * large:  # it is in it: out at once
                    answer = since
                    break
                if value <= 3e-7 * large:  # no more than rounding of where a step left it: it touches, unless it leaves
                    none = NEGLIGIBLE * (abs(path[6]) + abs(path[7]) + abs(path[8]))
                    still = NEGLIGIBLE * (1.0 + abs(vx) + abs(vy) + abs(vz))
                    if speed < -still or (push <= none and speed <= max(abs(push) * 5e-4, still)):
                        answer = since
                        break
                    value = 0.0
                if world[0][c] == MESH and held == 0:
                    crossing = _first_crossing(world, root, path, since, until, start, length, bend / 4 + 1e-9, room)
                doing = 1
            elif abs(value) <= 1e-9 * large:
                answer = moment
                break
            if value < 0.0:
                hi, g_hi = moment, value
            else:
                lo, g_lo = moment, value
                ahead = lo + _time_to_close(g_lo, speed, push)
                if ahead - lo <= 1e-15:
                    answer = lo
                    break
                if ahead <= min(until, crossing) and tries < 30:
                    moment = ahead
                    continue
                if crossing > until:
                    moment, doing = until, 2
                    continue
                hi, g_hi = crossing, -radius
        elif doing == 2:
            if value >= -3e-7 * large:
                break
            hi, g_hi = until, value
        elif doing == 3:
            if value > 1e-9 * large:
                lo, g_lo = moment, value
            elif tries > 16:
                answer = lo
                break
            else:
                hi, g_hi = moment, min(value, -1e-12)
        else:
            if abs(value) <= 1e-9 * large or hi - lo < 1e-12 * length or tries > 60:
                answer = moment if value >= -1e-9 * large else lo
                break
            if value > 0.0:
                lo, g_lo = moment, value
                g_hi = g_hi / 2 if last == 1 else g_hi
                last = 1
            else:
                hi, g_hi = moment, value
                g_lo = g_lo / 2 if last == -1 else g_lo
                last = -1
        # between lo, where there is a gap, and hi, where there is none
        if g_lo <= 1e-9 * large and doing != 4:  # it left what it touched, and comes back: a moment when it is off
            tries = tries if doing == 3 else 2
            moment, doing = lo + (hi - lo) / 2, 3
            continue
        tries = tries if doing == 4 else 0
        doing = 4
        moment = (lo * g_hi - hi * g_lo) / (g_hi - g_lo)
        if not lo < moment < hi:
            moment = (lo + hi) / 2
    if passes < answer:
        return passes, True
    return answer, False
