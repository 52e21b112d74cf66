"""Shadow maps: the depth of triangles seen from a light, and the light that particles let through."""

from __future__ import annotations

import math

import numpy as np

from .compiled import kernel

F32 = np.float32


@kernel("void(float32[:,:,::1], float64[::1], float64[::1], float64[::1], int32[:,::1], boolean)")
def write_nearest(seen, x, y, away, faces, perspective):
    """Write depths of triangles into the first channel of seen (S, S, 3), with a depth test.

    x, y (texels), away (metres): of each point, (V,). perspective: interpolate the inverse of the depth.
    """
    side = seen.shape[0]
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        if perspective and (away[a] < 0.02 or away[b] < 0.02 or away[c] < 0.02):
            continue
        area = (x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])
        if area == 0.0 or not math.isfinite(area):
            continue
        x0, x1 = max(0, math.floor(min(x[a], x[b], x[c]))), min(side - 1, math.ceil(max(x[a], x[b], x[c])))
        y0, y1 = max(0, math.floor(min(y[a], y[b], y[c]))), min(side - 1, math.ceil(max(y[a], y[b], y[c])))
        ua, va = ((y[b] - y[c]) / area), ((y[c] - y[a]) / area)  # by how much both change from texel to texel
        for py in range(y0, y1 + 1):
            cx, cy = x0 + 0.5 + 1.37e-6, py + 0.5 + 2.71e-6
            u = ((x[b] - cx) * (y[c] - cy) - (x[c] - cx) * (y[b] - cy)) / area
            v = ((x[c] - cx) * (y[a] - cy) - (x[a] - cx) * (y[c] - cy)) / area
            # where all three are at least nought
            low, high = 0.0, float(x1 - x0)
            for at, by in ((u, ua), (v, va), (1.0 - u - v, -ua - va)):
                if by > 0.0:
                    low = max(low, -at / by)
                elif by < 0.0:
                    high = min(high, -at / by)
                elif at < 0.0:
                    high = -1.0
            if not low <= high:
                continue
            for step in range(math.ceil(low), math.floor(high) + 1):
                s, t = u + ua * step, v + va * step
                w = 1.0 - s - t
                far = (
                    1.0 / (s / away[a] + t / away[b] + w / away[c])
                    if perspective
                    else s * away[a] + t * away[b] + w * away[c]
                )
                if far < seen[py, x0 + step, 0]:
                    seen[py, x0 + step, 0] = F32(far)


@kernel("void(float32[:,:,::1], float64[::1], float64[::1], float64[::1], float64[::1], float64[::1])")
def multiply_transmittance(seen, x, y, away, half, opacity):
    """Attenuate light in seen (S, S, 3) by particles: the second channel is multiplied by what each lets through, with
    its opacity falling as (1 - q²)² to its edge; the third sums depth times attenuation.

    x, y, half: texels; away: metres; opacity: 0 to 1; (n,) each. A particle smaller than a texel attenuates in
    proportion.
    """
    side = seen.shape[0]
    for n in range(x.shape[0]):
        radius = max(half[n], 0.75)
        most = min(opacity[n], 1.0) * min(half[n] / radius, 1.0) ** 2
        x0, x1 = max(0, math.floor(x[n] - radius)), min(side - 1, math.ceil(x[n] + radius))
        y0, y1 = max(0, math.floor(y[n] - radius)), min(side - 1, math.ceil(y[n] + radius))
        for py in range(y0, y1 + 1):
            for px in range(x0, x1 + 1):
                dx, dy = (px + 0.5 - x[n]) / radius, (py + 0.5 - y[n]) / radius
                q = 1.0 - dx * dx - dy * dy
                if q <= 0.0:
                    continue
                takes = most * q * q
                seen[py, px, 2] += F32(takes * away[n])
                seen[py, px, 1] *= F32(1.0 - takes)
