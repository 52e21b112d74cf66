"""Streaks: straight lines against the velocity, or along a direction."""

from __future__ import annotations

import numpy as np

from ..parts.looks import StrandLook
from ..rows.model import walk
from ..rows.responses import is_plain
from .course import StrandPoints, StrandRequest, within_budget

CURVED = 9  # places of a streak along which something bends


def course(asked: StrandRequest) -> StrandPoints:
    """Return each particle's streak: from the head, placed as its setting says, along the line to the far end."""
    shown, settings, rows = asked.shown, asked.settings, asked.shown.course
    velocity = shown.velocities().astype(np.float64)
    speed = np.linalg.norm(velocity, axis=1)
    away = -velocity if settings.lies_along == "velocity" else rows["direction"].astype(np.float64)
    away = away / np.maximum(np.linalg.norm(away, axis=1, keepdims=True), 1e-12)
    length = rows["length"] if settings.long_by == "length" else rows["shutter"] * speed
    count = CURVED if bends(settings) else 2
    within_budget(len(shown) * count, f"{len(shown):,} streaks", "Draw fewer particles so.")
    at = np.linspace(0, 1, count)[None, :] - rows["stands_at"].astype(np.float64)[:, None]
    return StrandPoints.of_each(shown.positions()[:, None, :] + away[:, None, :] * (at * length[:, None])[..., None])


def bends(settings: StrandLook) -> bool:
    """Return whether anything varies along a line other than linearly from head to far end."""
    for name in ("taper", "fade"):
        row = getattr(settings, name)
        if not is_plain(row) or row.base not in (0.0, 1.0):
            return True
    return any(
        value == "along" if facts.name == "kind" else "formula" in facts.marks and "along" in str(value)
        for _, facts, value in walk(settings)
    )
