"""The rails of an emitter's rides as lines in the world, for the stage."""

from __future__ import annotations

from typing import Any

from ..staging import Stage


def rails(stage: Stage, emitter: Any, seconds: float) -> list[dict[str, Any]]:
    """Return the rails of active rides at a clip time: uid and lines, points in metres (n, 3). Rides without a rail are
    left out."""
    drawn = []
    for ride in emitter.rides:
        lines = [] if ride.muted else ride.rails(stage, seconds)
        if lines:
            drawn.append(
                {"ride": ride.uid, "lines": [[[float(f"{x:.5g}") for x in point] for point in line] for line in lines]}
            )
    return drawn
