"""The rails of an emitter's rides, as lines in the world: what the stage draws of them."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry import Mesh, Path
from ..program import PropQuery
from ..staging import Stage

ALONG, ROUND, LEVELS = 49, 12, 7  # points of a line; lines of a surface along v, and along u


def rails(stage: Stage, emitter: Any, seconds: float) -> list[dict[str, Any]]:
    """Return the rails of the rides that act: of each its uid and its lines, points in metres (n, 3). A path's is the path; a surface's are
    lines of even u and v over it; what crawls, and what sits at a target, has none."""
    made = []
    for ride in emitter.rides:
        prop = getattr(ride, "prop", None)
        if ride.muted or prop is None or not ride.places:
            continue
        lines: list[np.ndarray] = []
        now, query = np.full(1, seconds), PropQuery(prop, "", ride)
        geometry = stage.geometry(prop)
        if ride.kind == "path" and isinstance(geometry, Path):
            share = np.linspace(0, 1, 4 * ALONG)
            lines = [np.stack(stage.along(query, share, np.zeros(len(share)), now)[:3], axis=1)]
        elif ride.kind == "surface" and isinstance(geometry, Mesh) and len(geometry.faces):
            low, high = geometry.uv.min(axis=0).astype(float), geometry.uv.max(axis=0).astype(float)
            over = [np.linspace(low[k], high[k] - 1e-9, ALONG) for k in range(2)]
            for u in np.linspace(low[0], high[0], ROUND, endpoint=False):
                lines.append(_on(stage, query, np.full(ALONG, u), over[1], now))
            for v in np.linspace(low[1], high[1], LEVELS):
                lines.append(_on(stage, query, over[0], np.full(ALONG, v), now))
        if lines:
            made.append({"ride": ride.uid, "lines": [[[float(f"{x:.5g}") for x in point] for point in line] for line in lines]})
    return made


def _on(stage: Stage, query: PropQuery, u: np.ndarray, v: np.ndarray, now: np.ndarray) -> np.ndarray:
    return np.stack(stage.ridden(query, np.column_stack([u, v]), np.zeros((len(u), 3)), now)[:3], axis=1)
