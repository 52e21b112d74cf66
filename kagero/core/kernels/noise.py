"""Improved gradient noise and its curl.

Noise: K. Perlin, "Improving noise", SIGGRAPH 2002, with its permutation and twelve gradients. Curl noise: Bridson,
Hourihan and Nordenstam, "Curl-noise for procedural fluid flow", SIGGRAPH 2007. The curl is computed from the noise's
analytic derivatives, so the field's divergence is zero up to rounding.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .compiled import kernel

_P = np.array(
    (  # noqa: SIM905
        "151 160 137 91 90 15 131 13 201 95 96 53 194 233 7 225 140 36 103 30 69 142 8 99 37 240 21 10 23 190 6 "
        "148 247 120 234 75 0 26 197 62 94 252 219 203 117 35 11 32 57 177 33 88 237 149 56 87 174 20 125 136 171 "
        "168 68 175 74 165 71 134 139 48 27 166 77 146 158 231 83 111 229 122 60 211 133 230 220 105 92 41 55 46 "
        "245 40 244 102 143 54 65 25 63 161 1 216 80 73 209 76 132 187 208 89 18 169 200 196 135 130 116 188 159 "
        "86 164 100 109 198 173 186 3 64 52 217 226 250 124 123 5 202 38 147 118 126 255 82 85 212 207 206 59 227 "
        "47 16 58 17 182 189 28 42 223 183 170 213 119 248 152 2 44 154 163 70 221 153 101 155 167 43 172 9 129 "
        "22 39 253 19 98 108 110 79 113 224 232 178 185 112 104 218 246 97 228 251 34 242 193 238 210 144 12 191 "
        "179 162 241 81 51 145 235 249 14 239 107 49 192 214 31 181 199 106 157 184 84 204 176 115 121 50 45 127 "
        "4 150 254 138 236 205 93 222 114 67 29 24 72 243 141 128 195 78 66 215 61 156 180"
    ).split(),
    dtype=np.uint8,
)
PERMUTATION = np.concatenate([_P, _P])
_G = [
    (1, 1, 0),
    (-1, 1, 0),
    (1, -1, 0),
    (-1, -1, 0),
    (1, 0, 1),
    (-1, 0, 1),
    (1, 0, -1),
    (-1, 0, -1),
    (0, 1, 1),
    (0, -1, 1),
    (0, 1, -1),
    (0, -1, -1),
    (1, 1, 0),
    (0, -1, 1),
    (-1, 1, 0),
    (0, -1, -1),
]
GRADIENTS = np.array(_G, dtype=np.float32)  # 2002, `grad`: the low four bits of the hash choose the row


@kernel(inline="always")  # inlined, so that partial derivatives nobody reads cost nothing
def _noise_with_gradient(x, y, z):
    """Return improved noise at (x, y, z) and its three partial derivatives, in the argument's own precision."""
    fx, fy, fz = np.floor(x), np.floor(y), np.floor(z)
    X, Y, Z = int(fx) & 255, int(fy) & 255, int(fz) & 255
    x, y, z = x - fx, y - fy, z - fz
    # exact in either precision
    six = np.float32(6)
    fifteen = np.float32(15)
    ten = np.float32(10)
    thirty = np.float32(30)
    u = x * x * x * (x * (x * six - fifteen) + ten)
    v = y * y * y * (y * (y * six - fifteen) + ten)
    w = z * z * z * (z * (z * six - fifteen) + ten)
    one, two = np.float32(1), np.float32(2)
    du = thirty * x * x * (x * (x - two) + one)
    dv = thirty * y * y * (y * (y - two) + one)
    dw = thirty * z * z * (z * (z - two) + one)
    P = PERMUTATION
    A = P[X] + Y
    AA, AB = P[A & 255] + Z, P[(A + 1) & 255] + Z
    B = P[X + 1] + Y
    BA, BB = P[B & 255] + Z, P[(B + 1) & 255] + Z
    g = GRADIENTS
    h0, h1, h2, h3 = P[AA & 255] & 15, P[BA & 255] & 15, P[AB & 255] & 15, P[BB & 255] & 15
    h4, h5, h6, h7 = P[(AA + 1) & 255] & 15, P[(BA + 1) & 255] & 15, P[(AB + 1) & 255] & 15, P[(BB + 1) & 255] & 15
    x1, y1, z1 = x - one, y - one, z - one
    n0 = g[h0, 0] * x + g[h0, 1] * y + g[h0, 2] * z
    n1 = g[h1, 0] * x1 + g[h1, 1] * y + g[h1, 2] * z
    n2 = g[h2, 0] * x + g[h2, 1] * y1 + g[h2, 2] * z
    n3 = g[h3, 0] * x1 + g[h3, 1] * y1 + g[h3, 2] * z
    n4 = g[h4, 0] * x + g[h4, 1] * y + g[h4, 2] * z1
    n5 = g[h5, 0] * x1 + g[h5, 1] * y + g[h5, 2] * z1
    n6 = g[h6, 0] * x + g[h6, 1] * y1 + g[h6, 2] * z1
    n7 = g[h7, 0] * x1 + g[h7, 1] * y1 + g[h7, 2] * z1
    # trilinear blend n = k0 + k1 u + k2 v + k3 w + k4 uv + k5 vw + k6 uw + k7 uvw, and the same for each gradient
    k1, k2, k3 = n1 - n0, n2 - n0, n4 - n0
    k4, k5, k6 = n0 - n1 - n2 + n3, n0 - n2 - n4 + n6, n0 - n1 - n4 + n5
    k7 = n1 + n2 + n4 + n7 - n0 - n3 - n5 - n6
    n = n0 + k1 * u + k2 * v + k3 * w + k4 * u * v + k5 * v * w + k6 * u * w + k7 * u * v * w
    uv, vw, uw, uvw = u * v, v * w, u * w, u * v * w
    w0, w1, w2, w3 = one - u - v - w + uv + vw + uw - uvw, u - uv - uw + uvw, v - uv - vw + uvw, uv - uvw
    w4, w5, w6, w7 = w - vw - uw + uvw, uw - uvw, vw - uvw, uvw
    dx = du * (k1 + k4 * v + k6 * w + k7 * vw) + (
        w0 * g[h0, 0]
        + w1 * g[h1, 0]
        + w2 * g[h2, 0]
        + w3 * g[h3, 0]
        + w4 * g[h4, 0]
        + w5 * g[h5, 0]
        + w6 * g[h6, 0]
        + w7 * g[h7, 0]
    )
    dy = dv * (k2 + k4 * u + k5 * w + k7 * uw) + (
        w0 * g[h0, 1]
        + w1 * g[h1, 1]
        + w2 * g[h2, 1]
        + w3 * g[h3, 1]
        + w4 * g[h4, 1]
        + w5 * g[h5, 1]
        + w6 * g[h6, 1]
        + w7 * g[h7, 1]
    )
    dz = dw * (k3 + k5 * v + k6 * u + k7 * uv) + (
        w0 * g[h0, 2]
        + w1 * g[h1, 2]
        + w2 * g[h2, 2]
        + w3 * g[h3, 2]
        + w4 * g[h4, 2]
        + w5 * g[h5, 2]
        + w6 * g[h6, 2]
        + w7 * g[h7, 2]
    )
    return n, dx, dy, dz


_CURL = (
    "void({0}[::1],{0}[::1],{0}[::1],{0}[::1],{0}[::1],{0}[::1],{0}[::1],float32[::1],int64,{0}[::1],{0}[::1],{0}[::1])"
)
_NOISE = "void({0}[::1],{0}[::1],{0}[::1],{0}[::1],{0}[::1],{0}[::1],float32[::1],int64,{0}[::1])"


@kernel(_CURL.format("float32"), _CURL.format("float64"))
def curl_noise_into(px, py, pz, time, scale, drift, gain, offset, octaves, ox, oy, oz):
    """Write the curl of three noise potentials at each position: magnitude about 1, divergence zero.

    px, py, pz: positions, metres, (n,). time: clip time, seconds; scale: size of the swirls, metres; drift: speed at
    which each potential slides along its own axis, m/s; gain: strength of each octave relative to the one before
    (roughness); each (n,) or (1,). offset: (9,) lattice offsets of the three potentials. octaves: each doubles the
    frequency. Octaves and gain (2 to the power of -H): Musgrave, in Ebert et al., "Texturing and Modeling", 3rd ed.,
    2003, ch. 16.
    """
    vary_t, vary_s, vary_d, vary_g = time.size > 1, scale.size > 1, drift.size > 1, gain.size > 1
    two = np.float32(2.0)
    for i in range(px.size):
        weaker = gain[i] if vary_g else gain[0]
        s = scale[i] if vary_s else scale[0]
        slide = (time[i] if vary_t else time[0]) * (drift[i] if vary_d else drift[0])
        inverse = np.float32(1.0) / s
        x, y, z, slide = px[i] * inverse, py[i] * inverse, pz[i] * inverse, slide * inverse
        cx, cy, cz = np.float32(0), np.float32(0), np.float32(0)
        strength = np.float32(1)
        for _octave in range(octaves):
            _n, _a, a_y, a_z = _noise_with_gradient(x + offset[0] + slide, y + offset[1], z + offset[2])
            _n, b_x, _b, b_z = _noise_with_gradient(x + offset[3], y + offset[4] + slide, z + offset[5])
            _n, c_x, c_y, _c = _noise_with_gradient(x + offset[6], y + offset[7], z + offset[8] + slide)
            cx += strength * (c_y - b_z)
            cy += strength * (a_z - c_x)
            cz += strength * (b_x - a_y)
            x, y, z, slide, strength = x * two, y * two, z * two, slide * two, strength * weaker
        ox[i], oy[i], oz[i] = cx, cy, cz


@kernel(_CURL.format("float32"), _CURL.format("float64"))
def turbulence_into(px, py, pz, time, scale, drift, gain, offset, octaves, ox, oy, oz):
    """Write three independent noises at each position, each about -1 to 1 in its first octave. Arguments as in
    `curl_noise_into`."""
    vary_t, vary_s, vary_d, vary_g = time.size > 1, scale.size > 1, drift.size > 1, gain.size > 1
    two = np.float32(2.0)
    for i in range(px.size):
        weaker = gain[i] if vary_g else gain[0]
        s = scale[i] if vary_s else scale[0]
        slide = (time[i] if vary_t else time[0]) * (drift[i] if vary_d else drift[0])
        inverse = np.float32(1.0) / s
        x, y, z, slide = px[i] * inverse, py[i] * inverse, pz[i] * inverse, slide * inverse
        cx, cy, cz = np.float32(0), np.float32(0), np.float32(0)
        strength = np.float32(1)
        for _octave in range(octaves):
            a, _x, _y, _z = _noise_with_gradient(x + offset[0] + slide, y + offset[1], z + offset[2])
            b, _x, _y, _z = _noise_with_gradient(x + offset[3], y + offset[4] + slide, z + offset[5])
            c, _x, _y, _z = _noise_with_gradient(x + offset[6], y + offset[7], z + offset[8] + slide)
            cx, cy, cz = cx + strength * a, cy + strength * b, cz + strength * c
            x, y, z, slide, strength = x * two, y * two, z * two, slide * two, strength * weaker
        ox[i], oy[i], oz[i] = cx, cy, cz


@kernel(_NOISE.format("float32"), _NOISE.format("float64"))
def noise_into(px, py, pz, time, scale, drift, offset, octaves, out):
    """Write improved noise, -1 to 1, at each position. Arguments as in `curl_noise_into`; the field slides along y."""
    vary_t, vary_s, vary_d = time.size > 1, scale.size > 1, drift.size > 1
    half, two, one = np.float32(0.5), np.float32(2.0), np.float32(1.0)
    for i in range(px.size):
        inverse = one / (scale[i] if vary_s else scale[0])
        slide = (time[i] if vary_t else time[0]) * (drift[i] if vary_d else drift[0]) * inverse
        x, y, z = px[i] * inverse, py[i] * inverse, pz[i] * inverse
        total, strength, whole = np.float32(0), one, np.float32(0)
        for _octave in range(octaves):
            n, _dx, _dy, _dz = _noise_with_gradient(x + offset[0], y + offset[1] + slide, z + offset[2])
            total += strength * n
            whole += strength
            x, y, z, slide, strength = x * two, y * two, z * two, slide * two, strength * half
        out[i] = total / whole


@lru_cache(maxsize=4096)
def lattice_offsets(seed: int) -> np.ndarray:
    """Return (9,) float32 offsets of the three potentials from a 64-bit seed: multiples of 1/256, which float32 holds
    exactly."""
    generator = np.random.Generator(np.random.Philox(key=seed))  # a fixed algorithm: Salmon et al., SC 2011
    return (generator.integers(0, 64 * 256, size=9) / 256).astype(np.float32)
