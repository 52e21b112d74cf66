"""Particles as a density grid, and the view through it: absorption and emission along rays (Kajiya and Von Herzen, "Ray
tracing volume densities", SIGGRAPH 1984; Beer-Lambert law)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .compiled import kernel
from .shading import ALONG, AROUND, COLOUR, EDGE, FULL, REACH, SPOT, SUN, WHAT
from .sheets import FAST

F32 = np.float32
SCATTERED = 0.25  # of a sun's light that comes from all around, past what lies before it
STEP = 0.75  # of a cell: how far apart a ray is looked at
_OPTIONS: Any = {"error_model": "numpy", "fastmath": FAST, "_nrt": False}


@kernel("void(float32[:,:,:,::1], float64[::1], float64, float64[:,::1], float64[::1], float64[:,::1])")
def fill_density(grid, origin, cell, places, reach, given):
    """Add particles to a grid, (nx, ny, nz, 4): red, green and blue times density, and density, 1/m.

    Grid points lie `cell` metres apart from origin on. places: (n, 3), metres; reach: (n,), metres; given: linear
    colour and density at the centre, (n, 4).
    """
    nx, ny, nz = grid.shape[:3]
    for n in range(places.shape[0]):
        x = (places[n, 0] - origin[0]) / cell
        y = (places[n, 1] - origin[1]) / cell
        z = (places[n, 2] - origin[2]) / cell
        r = reach[n] / cell
        if not r > 0.0:
            continue
        i0, i1 = max(0, math.ceil(x - r)), min(nx - 1, math.floor(x + r))
        j0, j1 = max(0, math.ceil(y - r)), min(ny - 1, math.floor(y + r))
        k0, k1 = max(0, math.ceil(z - r)), min(nz - 1, math.floor(z + r))
        inverse, dense = 1.0 / (r * r), given[n, 3]
        for i in range(i0, i1 + 1):
            for j in range(j0, j1 + 1):
                for k in range(k0, k1 + 1):
                    left = 1.0 - ((i - x) * (i - x) + (j - y) * (j - y) + (k - z) * (k - z)) * inverse
                    if left > 0.0:
                        much = left * left * left * dense
                        grid[i, j, k, 0] += F32(given[n, 0] * much)
                        grid[i, j, k, 1] += F32(given[n, 1] * much)
                        grid[i, j, k, 2] += F32(given[n, 2] * much)
                        grid[i, j, k, 3] += F32(much)


@kernel("void(float32[:,:,:,::1], float64, float64[::1], float32[:,:,::1])")
def optical_depth(grid, cell, toward, shade):
    """Write the optical depth from each grid point towards a light, direction (3,), into shade (nx, ny, nz)."""
    nx, ny, nz = grid.shape[:3]
    # from the side the light comes from, place by place: one step on lies between four places that are known
    sx, sy, sz = (1 if toward[0] >= 0 else -1), (1 if toward[1] >= 0 else -1), (1 if toward[2] >= 0 else -1)
    dx, dy, dz = abs(toward[0]), abs(toward[1]), abs(toward[2])
    most = max(dx, dy, dz)
    length = cell / most
    for a in range(nx):
        i = nx - 1 - a if sx > 0 else a
        for b in range(ny):
            j = ny - 1 - b if sy > 0 else b
            for c in range(nz):
                k = nz - 1 - c if sz > 0 else c
                px, py, pz = i + sx * dx / most, j + sy * dy / most, k + sz * dz / most
                total, i0, j0, k0 = 0.0, math.floor(px), math.floor(py), math.floor(pz)
                fx, fy, fz = px - i0, py - j0, pz - k0
                for corner in range(8):
                    u, v, w = i0 + (corner & 1), j0 + (corner >> 1 & 1), k0 + (corner >> 2)
                    share = (
                        (fx if corner & 1 else 1 - fx)
                        * (fy if corner >> 1 & 1 else 1 - fy)
                        * (fz if corner >> 2 else 1 - fz)
                    )
                    if (
                        share > 1e-9
                        and 0 <= u < nx
                        and 0 <= v < ny
                        and 0 <= w < nz
                        and not (u == i and v == j and w == k)
                    ):
                        total += share * (shade[u, v, w] + grid[u, v, w, 3] * length)
                shade[i, j, k] = F32(total)


@kernel("void(float32[:,:,:,::1], float64[::1], float64, float64[:,::1], float32[:,:,:,::1])")
def light_density(grid, origin, cell, lights, shades):
    """Light a grid's colours by lights in world space, (L, LIGHT) as in `shading`, with isotropic scattering.

    Suns are attenuated by shades (S, nx, ny, nz), one each in their order, and a quarter of their light arrives from
    all around; lamps and spots shine as far as they reach.
    """
    nx, ny, nz = grid.shape[:3]
    for i in range(nx):
        for j in range(ny):
            for k in range(nz):
                if grid[i, j, k, 3] <= 0.0:
                    continue
                red = green = blue = 0.0
                suns = 0
                for n in range(lights.shape[0]):
                    what, share = int(lights[n, WHAT]), 1.0
                    if what == SUN:
                        share = SCATTERED + (1.0 - SCATTERED) * math.exp(-shades[suns, i, j, k])
                        suns += 1
                    elif what != AROUND:
                        x = origin[0] + i * cell - lights[n, 0]
                        y = origin[1] + j * cell - lights[n, 1]
                        z = origin[2] + k * cell - lights[n, 2]
                        square = x * x + y * y + z * z
                        left = max(1.0 - square / (lights[n, REACH] * lights[n, REACH]), 0.0)
                        share = left * left
                        if what == SPOT:
                            far = max(math.sqrt(square), 1e-9)
                            cosine = (x * lights[n, ALONG] + y * lights[n, ALONG + 1] + z * lights[n, ALONG + 2]) / far
                            t = min(
                                max((cosine - lights[n, EDGE]) / max(lights[n, FULL] - lights[n, EDGE], 1e-6), 0.0), 1.0
                            )
                            share *= t * t * (3.0 - 2.0 * t)
                    red = red + lights[n, COLOUR] * share
                    green = green + lights[n, COLOUR + 1] * share
                    blue = blue + lights[n, COLOUR + 2] * share
                grid[i, j, k, 0] *= F32(red)
                grid[i, j, k, 1] *= F32(green)
                grid[i, j, k, 2] *= F32(blue)


@kernel(
    "void(float32[:,:,::1], float64[:,::1], int64, int64, float32[:,:,:,::1], float64[::1], float64, float64[::1], "
    "float64[:,::1], "
    "float64[::1], boolean)",
    **_OPTIONS,
)
def march_rays(picture, depth, first, last, grid, origin, cell, eye, axes, view, adding):
    """Blend the view of a grid over the rows first..last - 1 of a picture (H, W, 4), up to depth (H, W), metres, or
    everywhere where depth is empty.

    eye: (3,), metres. axes: unit vectors right, up and back, (3, 3) by rows. view: pixels a metre at a depth of one
    metre, and the middle of the view. adding: nothing behind is attenuated.
    """
    nx, ny, nz = grid.shape[:3]
    for py in range(first, last):
        for px in range(picture.shape[1]):
            across, up = (px + 0.5 - view[1]) / view[0], (view[2] - py - 0.5) / view[0]
            near, far = 0.02, 1e9 if depth.size == 0 else depth[py, px]
            wx = axes[0, 0] * across + axes[1, 0] * up - axes[2, 0]
            wy = axes[0, 1] * across + axes[1, 1] * up - axes[2, 1]
            wz = axes[0, 2] * across + axes[1, 2] * up - axes[2, 2]
            for axis in range(3):
                weight = wx if axis == 0 else wy if axis == 1 else wz
                size = ((nx if axis == 0 else ny if axis == 1 else nz) - 1.0) * cell
                from_ = origin[axis] - eye[axis]
                if abs(weight) < 1e-12:
                    if from_ > 0.0 or from_ + size < 0.0:
                        far = -1.0
                    continue
                a, b = from_ / weight, (from_ + size) / weight
                near, far = max(near, min(a, b)), min(far, max(a, b))
            if not far > near:
                continue
            long = math.sqrt(wx * wx + wy * wy + wz * wz)
            count = max(1, math.ceil((far - near) * long / (cell * STEP)))
            step = (far - near) / count
            metres = step * long
            red, green, blue, left = 0.0, 0.0, 0.0, 1.0
            for n in range(count):
                t = near + (n + 0.5) * step
                x = (eye[0] + wx * t - origin[0]) / cell
                y = (eye[1] + wy * t - origin[1]) / cell
                z = (eye[2] + wz * t - origin[2]) / cell
                i = min(max(math.floor(x), 0), nx - 2)
                j = min(max(math.floor(y), 0), ny - 2)
                k = min(max(math.floor(z), 0), nz - 2)
                fx, fy, fz = min(max(x - i, 0.0), 1.0), min(max(y - j, 0.0), 1.0), min(max(z - k, 0.0), 1.0)
                r, g, b_, s = 0.0, 0.0, 0.0, 0.0
                for corner in range(8):
                    u, v, w = i + (corner & 1), j + (corner >> 1 & 1), k + (corner >> 2)
                    share = (
                        (fx if corner & 1 else 1 - fx)
                        * (fy if corner >> 1 & 1 else 1 - fy)
                        * (fz if corner >> 2 else 1 - fz)
                    )
                    r += share * grid[u, v, w, 0]
                    g += share * grid[u, v, w, 1]
                    b_ += share * grid[u, v, w, 2]
                    s += share * grid[u, v, w, 3]
                if s <= 0.0:
                    continue
                if adding:
                    red, green, blue = red + r * metres, green + g * metres, blue + b_ * metres
                else:
                    through = math.exp(-s * metres)
                    much = left * (1.0 - through) / s
                    red, green, blue = red + r * much, green + g * much, blue + b_ * much
                    left *= through
                    if left < 1e-4:
                        break
            picture[py, px, 0] = F32(red) + picture[py, px, 0] * F32(left)
            picture[py, px, 1] = F32(green) + picture[py, px, 1] * F32(left)
            picture[py, px, 2] = F32(blue) + picture[py, px, 2] * F32(left)
            picture[py, px, 3] = F32(1.0 - left) + picture[py, px, 3] * F32(left)
