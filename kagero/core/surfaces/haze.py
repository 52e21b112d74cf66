"""Haze: particles as density on a grid. A particle adds density (1 - r²)³ times its colour, with r in halves of its
size."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..kernels.haze import fill_density, light_density, optical_depth
from ..kernels.shading import COLOUR, LAMP, LIGHT, SUN, WHAT
from ..simulation import ShownParticles, Volume
from ..work_limits import claim, spend
from .parts import in_parts

F64 = np.float64
MOST_SIDE, MOST_PLACES = 160, 96**3
OWN = np.zeros((1, LIGHT))
OWN[0, :3], OWN[0, COLOUR : COLOUR + 3], OWN[0, WHAT] = (
    np.array([0.35, 0.7, 0.62]) / np.sqrt(0.35**2 + 0.7**2 + 0.62**2),
    1.0,
    SUN,
)
LIT = True  # its density is lit where it is


def surface(settings: Any, shown: ShownParticles, coarse: bool, lights: np.ndarray) -> tuple[Volume, str]:
    """Return the density of particles, and a remark about it. Raises GeometryProblem where none is visible."""
    size, density = shown.column("size").astype(F64), shown.column("density").astype(F64) * shown.column("opacity")
    seen = (size > 0) & (density > 0)
    places, reach = shown.positions().astype(F64)[seen], size[seen] / 2
    adding = settings.how == "adding"
    if not len(places):
        return Volume(np.zeros((2, 2, 2, 4), np.float32), np.zeros(3), 1.0, adding), ""
    wanted = settings.cell * (2 if coarse else 1)
    low, high = (places - reach[:, None]).min(axis=0), (places + reach[:, None]).max(axis=0)
    span = high - low
    least = max(float(span.max()) / (MOST_SIDE - 3), float(np.prod(np.maximum(span, wanted)) / MOST_PLACES) ** (1 / 3))
    cell = max(wanted, least)
    if float(reach.max()) < cell / 2:
        raise GeometryProblem(
            f"The largest of these is {2000 * reach.max():.3g} mm, less than a cell of {cell * 1000:.3g} mm.",
            remedy="Make cells smaller, or particles larger; the disc stands in.",
        )
    low = low - cell
    count = np.ceil((high + cell - low) / cell).astype(int) + 1
    claim(16 * float(np.prod(count)), "The grid of haze")
    grid = np.zeros((*count, 4), np.float32)
    spend(int(grid.size // 50))
    given = np.column_stack([shown.column("colour"), density])[seen].astype(F64)
    for few in in_parts(reach / cell, count):
        fill_density(grid, low, cell, places[few], reach[few], given[few])
    if settings.how == "lit":
        if not (lights[:, WHAT] != LAMP).any():  # the stage's own light
            lights = np.concatenate([OWN, lights])
        suns = lights[lights[:, WHAT] == SUN]
        claim(
            4 * len(suns) * float(np.prod(count)),
            f"Haze lit by {len(suns)} suns",
            remedy="Let fewer suns shine, or make cells larger.",
        )
        shades = np.zeros((len(suns), *count), np.float32)
        for sun, shade in zip(suns, shades, strict=True):
            optical_depth(grid, cell, np.ascontiguousarray(sun[:3]), shade)
        light_density(grid, low, cell, np.ascontiguousarray(lights, F64), shades)
    coarser = least > wanted * 1.0001 and not coarse
    remark = (
        f"Cells are {cell * 1000:.3g} mm instead of {settings.cell * 1000:.3g} mm: it is spread too wide for more."
        if coarser
        else ""
    )
    return Volume(grid, low, cell, adding), remark
