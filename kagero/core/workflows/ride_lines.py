"""The rails of an emitter's rides, as lines in the world: what the stage draws of them."""

from __future__ import annotations

from typing import Any

from ..staging import Stage


def rails(stage: Stage, emitter: Any, seconds: float) -> list[dict[str, Any]]:
    """Return the rails of the rides that act, at a clip time: of each its uid and its lines, points in metres (n, 3). What has none is left out."""
    drawn = []
    for ride in emitter.rides:
        lines = [] if ride.muted else ride.rails(stage, seconds)
        if lines:
            drawn.append(
                {"ride": ride.uid, "lines": [[[float(f"{x:.5g}") for x in point] for point in line] for line in lines]}
            )
    return drawn
