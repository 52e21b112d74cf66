"""Blobs: particles as a field of soft balls, and its isosurface.

A particle of size d reaches s d / 2 (s the smoothness) and adds (1 - r²)³, with r in reaches. The level is relative to
what one particle alone adds at its own surface, r = 1 / s: at 100 % a single particle has exactly its size.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..kernels.blobs import add_to_field, blend_on_surface
from ..kernels.marching import surface as marched
from ..simulation import ShownParticles, Surface
from ..simulation.neighbours import cells_per_axis
from ..work_limits import claim, spend
from .parts import in_parts

F64 = np.float64
MOST_SIDE = 256  # cells along a side, and with those of the others MOST_CELLS in all
MOST_CELLS = 256**3


def surface(settings: Any, shown: ShownParticles, coarse: bool, lights: np.ndarray) -> tuple[Surface, str]:
    """Return the surface of particles, and a remark about it. Raises GeometryProblem, with the reason, where there is
    none."""
    size = shown.column("size").astype(F64)
    seen = (size > 0) & (shown.column("opacity") > 0)
    places, size = shown.positions().astype(F64)[seen], size[seen]
    if not len(places):
        return Surface.nothing(), ""
    smooth, level = max(float(shown.column("smooth")[0]), 1.01), float(shown.column("level")[0])
    reach = size / 2 * smooth
    cell, coarser = _cell(settings.cell * (2 if coarse else 1), places, reach)
    low = (places - reach[:, None]).min(axis=0) - cell
    count = np.ceil(((places + reach[:, None]).max(axis=0) + cell - low) / cell).astype(int) + 1
    claim(4 * float(np.prod(count)), "The grid of blobs")
    field = np.zeros(tuple(count), np.float32)
    spend(int(field.size // 50))
    for few in in_parts(reach / cell, count):
        add_to_field(field, low, cell, places[few], reach[few])
    alone = (1 - 1 / smooth**2) ** 3
    points, faces = marched(field, level * alone, low, cell)
    if not len(faces):
        peak = float(field.max(initial=0)) / alone
        if float(size.max()) < cell:
            raise GeometryProblem(
                f"The largest of these is {size.max() * 1000:.3g} mm, less than a cell of {cell * 1000:.3g} mm: there "
                "is no surface to find.",
                remedy="Make cells smaller, or particles larger.",
            )
        raise GeometryProblem(
            f"A level of {level:.0%} is above what these reach, {peak:.0%}: there is no surface.",
            remedy="Lower the level.",
        )
    given = [
        shown.column("colour"),
        shown.column("opacity"),
        shown.column("cover"),
        shown.column("uv"),
        shown.velocities(),
    ]
    normals, mixes = _blended_at(points, places, reach, np.column_stack(given)[seen])
    remark = ""
    if coarser and not coarse:
        remark = (
            f"Cells are {cell * 1000:.3g} mm instead of {settings.cell * 1000:.3g} mm: they are too far apart for more."
        )
    elif float(np.median(size)) < cell:
        remark = f"Half of these are smaller than a cell of {cell * 1000:.3g} mm and may be lost: make cells smaller."
    return Surface(
        points, normals, np.ascontiguousarray(mixes[:, :5]), faces, np.ascontiguousarray(mixes[:, 5:7]), mixes[:, 7:]
    ), remark


def _cell(wanted: float, places: np.ndarray, reach: np.ndarray) -> tuple[float, bool]:
    """Return the cell size in metres, and whether it is larger than wanted because there would be too many cells."""
    span = (places + reach[:, None]).max(axis=0) - (places - reach[:, None]).min(axis=0)
    least = max(float(span.max()) / (MOST_SIDE - 4), float(np.prod(np.maximum(span, wanted)) / MOST_CELLS) ** (1 / 3))
    return max(wanted, least), least > wanted * 1.0001


def _blended_at(
    points: np.ndarray, places: np.ndarray, reach: np.ndarray, given: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return unit normals at points (V, 3), and the particles' blended values there, (V, k) float32."""
    side = float(reach.max())
    low = places.min(axis=0) - side
    folds = cells_per_axis(np.ptp(places, axis=0) / side, len(places))
    box = np.floor((places - low) / side).astype(np.int64) & (folds - 1)
    number = (box[:, 0] * folds[1] + box[:, 1]) * folds[2] + box[:, 2]
    order = np.argsort(number, kind="stable").astype(np.int64)
    first = np.searchsorted(number[order], np.arange(int(folds.prod()) + 1)).astype(np.int64)
    normals, out = np.empty((len(points), 3), np.float32), np.empty((len(points), given.shape[1]), np.float32)
    blend_on_surface(
        points,
        np.ascontiguousarray(places),
        reach,
        np.ascontiguousarray(given, F64),
        first,
        order,
        low,
        side,
        folds,
        normals,
        out,
    )
    return normals, out
