"""The light that props and bodies stand in: lamps, suns, spots and light from all around; without any of these the stage's own, one from above and a
rim. With the shadows that fall there."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numba import njit

F32 = np.float32
# columns of lights, (L, LIGHT) float64, in the eye's space (x right, y up, z back): where each is, metres, or of a sun the unit vector toward
# it; linear colour; how far it reaches, metres; what it is; the unit vector along which a spot shines; the cosines of half of its cone, at its
# edge and where it is full; which shadow map is its, below nought none
PLACE, COLOUR, REACH, WHAT, ALONG, EDGE, FULL, MAP, LIGHT = 0, 3, 6, 7, 8, 11, 12, 13, 14
LAMP, SUN, AROUND, SPOT = 0, 1, 2, 3
# columns of shadow maps' views, (M, VIEW) float64: by rows from the eye's space to right, up and ahead of the light, (3, 4); whether it sees in
# perspective; half of what it sees, metres, or its tangent; how far behind what hides light shadow begins, metres; how far a place on it looks
# about, texels
PERSPECTIVE, SCALE, BIAS, SOFTNESS, VIEW = 12, 13, 14, 15, 16
Lights = tuple[np.ndarray, np.ndarray, np.ndarray]  # lights; maps, (M, S, S, 3) float32: how far away what hides is, metres, how much light
# particles leave, and how far away these are in the mean, metres; the maps' views
NO_LAMPS: Lights = (np.zeros((0, LIGHT)), np.zeros((0, 1, 1, 3), F32), np.zeros((0, VIEW)))
LIGHTS = "Tuple((float64[:,::1], float32[:,:,:,::1], float64[:,::1]))"
SHINE = 48.0  # how narrow a gleam is (Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977)
TAPS = 16


_UNCOUNTED: Any = {"cache": True, "nogil": True, "error_model": "numpy", "_nrt": False}


@njit(f"float64(float64, float64, float64, {LIGHTS}, int64)", **_UNCOUNTED)
def left_of(px, py, pz, lights, m):
    """Return how much of a light gets to a place in the eye's space, metres, past what casts shadows: the mean over TAPS texels of map m about it
    (percentage closer filtering, Reeves, Salesin and Cook, SIGGRAPH 1987), evenly spread over a disc."""
    maps, views = lights[1], lights[2]
    side = maps.shape[1]
    lx = views[m, 0] * px + views[m, 1] * py + views[m, 2] * pz + views[m, 3]
    ly = views[m, 4] * px + views[m, 5] * py + views[m, 6] * pz + views[m, 7]
    ahead = views[m, 8] * px + views[m, 9] * py + views[m, 10] * pz + views[m, 11]
    wide = views[m, SCALE]
    if views[m, PERSPECTIVE] > 0.0:
        wide *= max(ahead, 1e-6)
    u, v = (lx / wide * 0.5 + 0.5) * side, (0.5 - ly / wide * 0.5) * side
    total = 0.0
    for k in range(TAPS):
        radius, turn = math.sqrt((k + 0.5) / TAPS) * views[m, SOFTNESS], 2.399963229728653 * k
        x, y = math.floor(u + radius * math.cos(turn)), math.floor(v + radius * math.sin(turn))
        if ahead <= 0.0 or x < 0 or y < 0 or x >= side or y >= side:
            total += 1.0
            continue
        if ahead > maps[m, y, x, 0] + views[m, BIAS]:
            continue
        total += maps[m, y, x, 1] if ahead > maps[m, y, x, 2] + views[m, BIAS] else 1.0
    return total / TAPS


@njit(cache=True, nogil=True, error_model="numpy", inline="always")
def lit(nx, ny, nz, ex, ey, ez, lights):
    """Return by how much red, green and blue of a surface are lit, how much of the rim is seen, and the gleam, all for a normal and the vector to
    the eye, metres, in the eye's space. A lamp gives its colour times the cosine to it times (1 - d² / reach²)², a spot as much within its cone."""
    rows = lights[0]
    size = max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    away = max(math.sqrt(ex * ex + ey * ey + ez * ez), 1e-12)
    facing = (nx * ex + ny * ey + nz * ez) / (size * away)
    side = -1.0 if facing < 0.0 else 1.0
    nx, ny, nz = nx * side / size, ny * side / size, nz * side / size
    red = green = blue = rim = gleam = 0.0
    own = True  # whether the stage's own light is there
    for n in range(rows.shape[0]):
        what = int(rows[n, WHAT])
        if what == AROUND:
            own = False
            red, green, blue = red + rows[n, COLOUR], green + rows[n, COLOUR + 1], blue + rows[n, COLOUR + 2]
            continue
        dx, dy, dz, share = rows[n, 0], rows[n, 1], rows[n, 2], 1.0
        if what != SUN:
            dx, dy, dz = dx + ex, dy + ey, dz + ez  # the place is where the vector to the eye begins
            square = dx * dx + dy * dy + dz * dz
            left = 1.0 - square / (rows[n, REACH] * rows[n, REACH])
            if left <= 0.0:
                continue
            far = max(math.sqrt(square), 1e-6)
            dx, dy, dz, share = dx / far, dy / far, dz / far, left * left
        if what == SPOT:
            cosine = -(dx * rows[n, ALONG] + dy * rows[n, ALONG + 1] + dz * rows[n, ALONG + 2])
            k = min(max((cosine - rows[n, EDGE]) / max(rows[n, FULL] - rows[n, EDGE], 1e-6), 0.0), 1.0)
            share *= k * k * (3.0 - 2.0 * k)
        cosine = nx * dx + ny * dy + nz * dz
        if what in (SUN, SPOT):
            own = False
        if cosine <= 0.0 or share <= 0.0:
            continue
        m = int(rows[n, MAP])
        if m >= 0:
            share *= left_of(-ex, -ey, -ez, lights, m)
        if what in (SUN, SPOT):
            hx, hy, hz = dx + ex / away, dy + ey / away, dz + ez / away
            half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
            most = max(rows[n, COLOUR], rows[n, COLOUR + 1], rows[n, COLOUR + 2])
            gleam += most * share * max((nx * hx + ny * hy + nz * hz) / half, 0.0) ** SHINE
        share *= cosine
        red, green, blue = red + rows[n, COLOUR] * share, green + rows[n, COLOUR + 1] * share, blue + rows[n, COLOUR + 2] * share
    if own:
        key = max((nx * 0.35 + ny * 0.7 + nz * 0.62) / 0.9987, 0.0)
        rim = 0.6 * (1.0 - abs(facing)) ** 3
        hx, hy, hz = 0.35 / 0.9987 + ex / away, 0.7 / 0.9987 + ey / away, 0.62 / 0.9987 + ez / away
        half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
        gleam = max((nx * hx + ny * hy + nz * hz) / half, 0.0) ** SHINE
        red, green, blue = red + 0.16 + 0.62 * key, green + 0.16 + 0.62 * key, blue + 0.16 + 0.62 * key
    return red, green, blue, rim, gleam
