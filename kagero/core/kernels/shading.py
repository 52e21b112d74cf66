"""Lighting of props and bodies: lamps, suns, spots and ambient light, with shadows. Without any light, the stage's own:
one from above and a rim."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .compiled import kernel

F32 = np.float32
# columns of lights, (L, LIGHT) float64, in the eye's space (x right, y up, z back): where each is, metres, or of a sun
# the unit vector toward
# it; linear colour; how far it reaches, metres; what it is; the unit vector along which a spot shines; the cosines of
# half of its cone, at its
# edge and where it is full; which shadow map is its, of a lamp the first of six, below nought none
PLACE, COLOUR, REACH, WHAT, ALONG, EDGE, FULL, MAP, LIGHT = 0, 3, 6, 7, 8, 11, 12, 13, 14
LAMP, SUN, AROUND, SPOT = 0, 1, 2, 3
# columns of shadow maps' views, (M, VIEW) float64: by rows from the eye's space to right, up and ahead of the light,
# (3, 4); whether it sees in
# perspective; half of what it sees, metres, or its tangent; how far behind what hides light shadow begins, metres; how
# far a place on it looks
# about, texels
PERSPECTIVE, SCALE, BIAS, SOFTNESS, VIEW = 12, 13, 14, 15, 16
Lights = tuple[
    np.ndarray, np.ndarray, np.ndarray
]  # lights; maps, (M, S, S, 3) float32: how far away what hides is, metres, how much light
# particles leave, and how far away these are in the mean, metres; the maps' views
NO_LAMPS: Lights = (np.zeros((0, LIGHT)), np.zeros((0, 1, 1, 3), F32), np.zeros((0, VIEW)))
LIGHTS = "Tuple((float64[:,::1], float32[:,:,:,::1], float64[:,::1]))"
SHINE = (
    48.0  # how narrow a gleam is (Blinn, "Models of light reflection for computer synthesized pictures", SIGGRAPH 1977)
)
TAPS = 16
# the stage's own light: toward it, how bright it is, and what is all around
KEY_X, KEY_Y, KEY_Z, KEY_SIZE, KEY, AMBIENT = 0.35, 0.7, 0.62, 0.9987, 0.62, 0.16


_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}


@kernel(f"float64(float64, float64, float64, {LIGHTS}, int64)", **_OPTIONS)
def visibility(px, py, pz, lights, m):
    """Return the share of a light that reaches a point in eye space (metres) past what casts shadows: the mean over
    TAPS texels of map m about it, on a disc (percentage closer filtering, Reeves, Salesin and Cook, SIGGRAPH 1987)."""
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


@kernel(f"int64(float64, float64, float64, {LIGHTS}, int64)", **_OPTIONS)
def cube_side(px, py, pz, lights, m):
    """Return which of a lamp's six maps, from m on, contains a point in eye space."""
    views = lights[2]
    for k in range(m, m + 6):
        lx = views[k, 0] * px + views[k, 1] * py + views[k, 2] * pz + views[k, 3]
        ly = views[k, 4] * px + views[k, 5] * py + views[k, 6] * pz + views[k, 7]
        ahead = views[k, 8] * px + views[k, 9] * py + views[k, 10] * pz + views[k, 11]
        if ahead > 0.0 and ahead >= abs(lx) and ahead >= abs(ly):
            return k
    return m


@kernel(f"UniTuple(float64, 4)(float64, float64, float64, {LIGHTS}, int64)", **_OPTIONS)
def direction_and_falloff(ex, ey, ez, lights, n):
    """Return the unit vector from a point to a light that is not ambient, and the unshadowed share of its light there:
    (1 - d² / reach²)², within the cone of a spot. ex, ey, ez: from the point to the eye, metres."""
    rows = lights[0]
    what = int(rows[n, WHAT])
    dx, dy, dz, share = rows[n, 0], rows[n, 1], rows[n, 2], 1.0
    if what != SUN:
        dx, dy, dz = dx + ex, dy + ey, dz + ez  # the place is where the vector to the eye begins
        square = dx * dx + dy * dy + dz * dz
        left = 1.0 - square / (rows[n, REACH] * rows[n, REACH])
        if left <= 0.0:
            return 0.0, 0.0, 0.0, 0.0
        far = max(math.sqrt(square), 1e-6)
        dx, dy, dz, share = dx / far, dy / far, dz / far, left * left
    if what == SPOT:
        cosine = -(dx * rows[n, ALONG] + dy * rows[n, ALONG + 1] + dz * rows[n, ALONG + 2])
        k = min(max((cosine - rows[n, EDGE]) / max(rows[n, FULL] - rows[n, EDGE], 1e-6), 0.0), 1.0)
        share *= k * k * (3.0 - 2.0 * k)
    return dx, dy, dz, share


@kernel(f"float64(float64, float64, float64, {LIGHTS}, int64)", **_OPTIONS)
def visible_share(ex, ey, ez, lights, n):
    """Return the share of a light that reaches, past what casts shadows, the point from which (ex, ey, ez) leads to the
    eye."""
    m = int(lights[0][n, MAP])
    if m < 0:
        return 1.0
    if int(lights[0][n, WHAT]) == LAMP:
        m = cube_side(-ex, -ey, -ez, lights, m)
    return visibility(-ex, -ey, -ez, lights, m)


@kernel(error_model="numpy", _nrt=False)
def shade(nx, ny, nz, ex, ey, ez, lights):
    """Return the diffuse light on a surface (red, green, blue), the visible share of the rim, and the gleam, for a
    normal and the vector to the eye, metres, in eye space.

    A light gives its colour, times the cosine to it, times the share that arrives.
    """
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
        if what != LAMP:
            own = False
        if what == AROUND:
            red, green, blue = red + rows[n, COLOUR], green + rows[n, COLOUR + 1], blue + rows[n, COLOUR + 2]
            continue
        dx, dy, dz, share = direction_and_falloff(ex, ey, ez, lights, n)
        cosine = nx * dx + ny * dy + nz * dz
        if cosine <= 0.0 or share <= 0.0:
            continue
        share *= visible_share(ex, ey, ez, lights, n)
        if what != LAMP:
            hx, hy, hz = dx + ex / away, dy + ey / away, dz + ez / away
            half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
            most = max(rows[n, COLOUR], rows[n, COLOUR + 1], rows[n, COLOUR + 2])
            gleam += most * share * max((nx * hx + ny * hy + nz * hz) / half, 0.0) ** SHINE
        share *= cosine
        red = red + rows[n, COLOUR] * share
        green = green + rows[n, COLOUR + 1] * share
        blue = blue + rows[n, COLOUR + 2] * share
    if own:
        key = max((nx * KEY_X + ny * KEY_Y + nz * KEY_Z) / KEY_SIZE, 0.0)
        rim = 0.6 * (1.0 - abs(facing)) ** 3
        hx, hy, hz = KEY_X / KEY_SIZE + ex / away, KEY_Y / KEY_SIZE + ey / away, KEY_Z / KEY_SIZE + ez / away
        half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
        gleam = max((nx * hx + ny * hy + nz * hz) / half, 0.0) ** SHINE
        light = AMBIENT + KEY * key
        red, green, blue = red + light, green + light, blue + light
    return red, green, blue, rim, gleam


@kernel("float64(float64, float64, float64, float64)", **_OPTIONS)
def ggx(nl, nv, nh, rough):
    """Return the light reflected by microfacets, times pi and the cosine to the light, without the Fresnel factor: GGX
    (Walter, Marschner, Li and Torrance, "Microfacet models for refraction through rough surfaces", EGSR 2007) with
    Smith's joint masking (Heitz, JCGT 3(2), 2014).

    nl, nv, nh: cosines between the normal and the light, the eye and the half vector. rough: 0 to 1; its square is the
    facets' width.
    """
    spread = max(rough * rough, 0.003)
    square = spread * spread
    down = nh * nh * (square - 1.0) + 1.0
    many = square / (down * down)  # times pi
    seen = nl * math.sqrt(nv * nv * (1.0 - square) + square) + nv * math.sqrt(nl * nl * (1.0 - square) + square)
    return many * 0.5 / max(seen, 1e-9) * nl


@kernel(
    f"UniTuple(float64, 3)(float64, float64, float64, float64, float64, float64, {LIGHTS}, float64, float64, float64, "
    "float64)",
    **_OPTIONS,
)
def specular(nx, ny, nz, ex, ey, ez, lights, rough, head_red, head_green, head_blue):
    """Return the specular light of a surface, for a normal and the vector to the eye as in `shade`.

    rough: 0 to 1. head_red, head_green, head_blue: reflectance at normal incidence; it grows towards grazing angles
    (Schlick, Computer Graphics Forum 13(3), 1994).
    """
    rows = lights[0]
    size = max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    away = max(math.sqrt(ex * ex + ey * ey + ez * ez), 1e-12)
    vx, vy, vz = ex / away, ey / away, ez / away
    nv = (nx * vx + ny * vy + nz * vz) / size
    side = -1.0 if nv < 0.0 else 1.0
    nx, ny, nz, nv = nx * side / size, ny * side / size, nz * side / size, max(abs(nv), 1e-4)
    slant = (1.0 - nv) ** 5 * (1.0 - rough)  # of light from all around, which rough facets see at all slants
    red = green = blue = 0.0
    own = True
    for n in range(rows.shape[0] + 1):
        if n == rows.shape[0]:
            if not own:
                break
            dx, dy, dz, share, cr, cg, cb = KEY_X / KEY_SIZE, KEY_Y / KEY_SIZE, KEY_Z / KEY_SIZE, 1.0, KEY, KEY, KEY
            ar, ag, ab = AMBIENT, AMBIENT, AMBIENT
        else:
            what = int(rows[n, WHAT])
            if what != LAMP:
                own = False
            cr, cg, cb = rows[n, COLOUR], rows[n, COLOUR + 1], rows[n, COLOUR + 2]
            ar = ag = ab = 0.0
            if what == AROUND:
                ar, ag, ab = cr, cg, cb
                dx, dy, dz, share = 0.0, 0.0, 0.0, 0.0
            else:
                dx, dy, dz, share = direction_and_falloff(ex, ey, ez, lights, n)
        red += ar * (head_red + (1.0 - head_red) * slant)
        green += ag * (head_green + (1.0 - head_green) * slant)
        blue += ab * (head_blue + (1.0 - head_blue) * slant)
        nl = nx * dx + ny * dy + nz * dz
        if nl <= 0.0 or share <= 0.0:
            continue
        if n < rows.shape[0]:
            share *= visible_share(ex, ey, ez, lights, n)
        hx, hy, hz = dx + vx, dy + vy, dz + vz
        half = max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
        nh, vh = max((nx * hx + ny * hy + nz * hz) / half, 0.0), max((vx * hx + vy * hy + vz * hz) / half, 0.0)
        sent, steep = ggx(nl, nv, nh, rough) * share, (1.0 - vh) ** 5
        red += cr * sent * (head_red + (1.0 - head_red) * steep)
        green += cg * sent * (head_green + (1.0 - head_green) * steep)
        blue += cb * sent * (head_blue + (1.0 - head_blue) * steep)
    return red, green, blue


@kernel("float64(float64)", **_OPTIONS)
def phase(cosine):
    """Return the mean brightness of a matte ball's disc for light at an angle to the eye, by its cosine: two thirds of
    Lambert's phase law, (sin g + (pi - g) cos g) / pi (Lambert, Photometria, 1760; e.g. Russell, Astrophysical Journal
    43, 1916)."""
    g = math.acos(min(max(cosine, -1.0), 1.0))
    return 2.0 / 3.0 * (math.sin(g) + (math.pi - g) * math.cos(g)) / math.pi


@kernel(f"void(float64[:,::1], {LIGHTS}, float64[:,::1])", **_OPTIONS)
def light_at(places, lights, out):
    """Write the light, (n, 3), that falls on things without a surface at positions in eye space, metres: the mean over
    a matte ball's disc."""
    rows = lights[0]
    for i in range(places.shape[0]):
        ex, ey, ez = -places[i, 0], -places[i, 1], -places[i, 2]
        away = max(math.sqrt(ex * ex + ey * ey + ez * ez), 1e-12)
        red = green = blue = 0.0
        own = True
        for n in range(rows.shape[0]):
            what = int(rows[n, WHAT])
            if what != LAMP:
                own = False
            if what == AROUND:
                red, green, blue = red + rows[n, COLOUR], green + rows[n, COLOUR + 1], blue + rows[n, COLOUR + 2]
                continue
            dx, dy, dz, share = direction_and_falloff(ex, ey, ez, lights, n)
            if share <= 0.0:
                continue
            share *= visible_share(ex, ey, ez, lights, n) * phase((dx * ex + dy * ey + dz * ez) / away)
            red = red + rows[n, COLOUR] * share
            green = green + rows[n, COLOUR + 1] * share
            blue = blue + rows[n, COLOUR + 2] * share
        if own:
            light = AMBIENT + KEY * phase((KEY_X * ex + KEY_Y * ey + KEY_Z * ez) / (KEY_SIZE * away))
            red, green, blue = red + light, green + light, blue + light
        out[i, 0], out[i, 1], out[i, 2] = red, green, blue
