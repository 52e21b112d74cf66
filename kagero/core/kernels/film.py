"""Light of a picture at a point of the particle it lies on: pages mixed, toned and masked (docs/LOOKS.md)."""

from __future__ import annotations

import math

import numpy as np

from .compiled import kernel
from .items import (
    BRIGHT,
    CUT,
    CUTTER,
    DARK,
    EDGES,
    FIRST,
    LAST,
    MIX,
    MIXED,
    MOTION,
    PAGE,
    PAGES,
    REPEATS,
    RIM_COLOUR,
    SHEET,
    TONED,
)
from .sheets import END, FAST, HOLD, REPEAT, cell_at, page_after, read_cell

F32 = np.float32


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def film_parameters(info, plates, looks, lk, traits, i, reach, level):
    """Return what `film_light` needs of item i: the values that are the same at all of its points. lk: its row in the
    table of looks. level: level of detail."""
    sheet, motion, mixed, cutter = looks[lk, SHEET], looks[lk, MOTION], looks[lk, MIXED], looks[lk, CUTTER]
    page = traits[i, PAGE]
    number = math.floor(page)
    share = page - F32(number)
    pages = looks[lk, PAGES]
    if share <= F32(0.001) or pages < 2:
        share = F32(0)
    after = page_after(number, pages, looks[lk, FIRST], looks[lk, LAST], looks[lk, REPEATS])
    here, next_ = cell_at(info, plates, sheet, level, number), cell_at(info, plates, sheet, level, after)
    nothing = (F32(0), F32(0), F32(0), F32(0))
    flow, next_way, second, cutting, back, on, mix = nothing, nothing, nothing, nothing, F32(0), F32(0), traits[i, MIX]
    start_m = width_m = start_x = width_x = start_c = width_c = 0
    if motion >= 0:
        flow = cell_at(info, plates, motion, level, number % pages)
        next_way = cell_at(info, plates, motion, level, after % pages)
        start_m, width_m = info[motion, 0], info[motion, 1]
        back, on = F32(2) * share * reach[lk], F32(2) * (F32(1) - share) * reach[lk]
    if mixed >= 0:
        second, start_x, width_x = cell_at(info, plates, mixed, level, 0), info[mixed, 0], info[mixed, 1]
    else:
        mix = F32(0)
    if cutter >= 0:
        cutting, start_c, width_c = cell_at(info, plates, cutter, level, 0), info[cutter, 0], info[cutter, 1]
    places = (info[sheet, 0], info[sheet, 1], start_m, width_m, start_x, width_x, start_c, width_c)
    return (
        (looks[lk, EDGES], share, motion, cutter, back, on, mix),
        places,
        (here, next_, flow, next_way, second, cutting),
    )


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def film_light(texels, film, traits, i, u, v, r0, g0, b0):
    """Return light (times coverage) and coverage of a film at (u, v). film: from `film_parameters`; r0, g0, b0: the
    item's colour."""
    (
        (edges, share, motion, cutter, back, on, mix),
        (start, width, start_m, width_m, start_x, width_x, start_c, width_c),
        cells,
    ) = film
    here, next_, flow, next_way, second, cutting = cells
    if share <= 0:
        red, green, blue, c = read_cell(texels, start, width, here, u, v, edges)
    else:
        du, dv, eu, ev = F32(0), F32(0), F32(0), F32(0)
        if motion >= 0:
            m = read_cell(texels, start_m, width_m, flow, u, v, HOLD)
            n_ = read_cell(texels, start_m, width_m, next_way, u, v, HOLD)
            du, dv = (m[0] - F32(0.5)) * back, (m[1] - F32(0.5)) * back
            eu, ev = (n_[0] - F32(0.5)) * on, (n_[1] - F32(0.5)) * on
        p = read_cell(texels, start, width, here, u - du, v + dv, edges)
        q = read_cell(texels, start, width, next_, u + eu, v - ev, edges)
        k = F32(1) - share
        red = p[0] * k + q[0] * share
        green = p[1] * k + q[1] * share
        blue = p[2] * k + q[2] * share
        c = p[3] * k + q[3] * share
    if mix > 0:
        p = read_cell(texels, start_x, width_x, second, u, v, edges)
        k = F32(1) - mix
        red, green, blue, c = red * k + p[0] * mix, green * k + p[1] * mix, blue * k + p[2] * mix, c * k + p[3] * mix
    toned, cut = traits[i, TONED], traits[i, CUT]
    bright = (F32(0.2126) * red + F32(0.7152) * green + F32(0.0722) * blue) / max(c, F32(1e-9))
    red, green, blue = red * r0, green * g0, blue * b0
    if toned > 0:
        k, e, w = min(max(bright * F32(2), F32(0)), F32(2)), toned * c, F32(1) - toned
        at = DARK if k < F32(1) else BRIGHT
        k = abs(k - F32(1))  # how far from the colour in the middle
        red = red * w + (r0 + (traits[i, at] - r0) * k) * e
        green = green * w + (g0 + (traits[i, at + 1] - g0) * k) * e
        blue = blue * w + (b0 + (traits[i, at + 2] - b0) * k) * e
    if cut > 0:
        value = c
        if cutter >= 0:
            p = read_cell(texels, start_c, width_c, cutting, u, v, REPEAT if edges == END else edges)
            value = F32(0.2126) * p[0] + F32(0.7152) * p[1] + F32(0.0722) * p[2]
        fade, rim = max(traits[i, CUT + 1], F32(0.001)), traits[i, CUT + 2]
        over = value - (cut * (F32(1) + fade) - fade)  # above where nothing is left
        left = min(max(over / fade, F32(0)), F32(1))
        red, green, blue = red * left, green * left, blue * left
        if rim > 0:
            near = min(max(F32(1) - over / rim, F32(0)), F32(1)) * min(cut * F32(20), F32(1))
            # in place of the picture's own light, so that its colour is the one that was chosen
            shine = near * c * left
            own = F32(1) - near
            red = red * own + traits[i, RIM_COLOUR] * shine
            green = green * own + traits[i, RIM_COLOUR + 1] * shine
            blue = blue * own + traits[i, RIM_COLOUR + 2] * shine
        c *= left
    return red, green, blue, c
