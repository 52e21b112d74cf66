"""One look of an emitter in a packet: its columns in the packet's types, and its drawing settings."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..plan import LookPlan
from ..simulation import ShownParticles

LARGEST_HALF = 60_000  # a little below the largest float16: what is more is sent as this


def _layer(shown: ShownParticles, first: LookPlan) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """Return a look's drawing settings and defaults, and its arrays except those that the emitter's first look sends
    already."""
    strands, surface = shown.strands, shown.surface
    if surface is not None:
        cover = float(surface.tints[:, 4].mean()) if len(surface.tints) else 1.0
        entry = {"drawing": shown.look.drawing, "defaults": {}, "places": 0, "first": False, "cover": cover}
        tints = np.clip(surface.tints[:, :4], -LARGEST_HALF, LARGEST_HALF).astype(np.float16)
        return entry, {
            "points": surface.points,
            "normals": surface.normals.astype(np.float16),
            "tints": tints,
            "faces": surface.faces.astype(np.uint32),
            **({"uv": surface.uv} if "uv" in shown.look.given else {}),
        }
    if (volume := shown.volume) is not None:
        grid = (
            np.clip(volume.grid, 0, LARGEST_HALF).astype(np.float16).transpose(2, 1, 0, 3)
        )  # x fastest, as textures have it
        entry = {
            "drawing": shown.look.drawing,
            "defaults": {},
            "places": 0,
            "first": False,
            "cell": volume.cell,
            "adding": volume.adding,
            "low": [float(x) for x in volume.low],
            "counts": list(volume.grid.shape[:3]),
        }
        return entry, {"grid": np.ascontiguousarray(grid).reshape(-1)}
    if strands is None:
        columns = _packed_columns(shown.look, shown.columns)
        entry = {
            "drawing": shown.look.drawing,
            "defaults": _defaults(shown.look, columns),
            "places": -1,
            "first": shown.look is first,
        }
        return entry, {} if shown.look is first else columns
    columns = _packed_columns(shown.look, strands.columns)
    entry = {
        "drawing": shown.look.drawing,
        "defaults": _defaults(shown.look, columns),
        "places": len(strands),
        "first": False,
    }
    arrays = {"points": strands.points, "joined": strands.joined.astype(np.uint8), **columns}
    if strands.across is not None:
        arrays["across"] = strands.across.astype(np.float16)
    return entry, arrays


def _defaults(look: LookPlan, sent: dict[str, np.ndarray]) -> dict[str, float]:
    """Return the common values of columns that are not sent."""
    return {column.name: column.default for column in look.columns if column.name not in sent}


def _packed_columns(look: LookPlan, columns: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    """Return a look's columns in their packet types; columns that are entirely at their defaults are left out."""
    arrays = {}
    for column in look.columns:
        if column.name in columns:
            array = columns[column.name]
            if column.wire == "<f2":
                array = np.clip(array, -LARGEST_HALF, LARGEST_HALF)
            elif column.wire == "|u1":
                array = np.clip(np.rint(array), 0, 255)
            arrays[column.name] = array.astype(column.wire)
    return arrays
