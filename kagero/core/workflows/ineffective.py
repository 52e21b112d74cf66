"""Responses without effect over a clip, with the reason in words."""

from __future__ import annotations

from typing import Any


def does_nothing(response: Any, seen: dict[str, Any]) -> str:
    """Return why a response has no effect, the same result for every particle at every time, or an empty string.

    seen: what `measure` gives for it over the clip.
    """
    if response.source.is_dial:
        return ""  # it is the same for all by its nature
    low, high = seen["low"], seen["high"]
    if high - low <= 1e-6 * max(abs(low), abs(high), 1e-6):
        return f"Its source is the same for all: {low:.4g}."
    if response.kind != "ratio":
        if seen["below"] + seen["above"] >= 1 and response.beyond == "hold":
            return "No particle lies inside its input range."
        if response.input[0] == response.input[1]:
            return "Its input range has no width."
    if "result" not in seen:
        colours = {tuple(stop.colour) for stop in response.gradient.stops}
        return "All its colours are the same." if len(colours) == 1 else ""
    least, most = seen["result"]
    if most - least <= 1e-6 * max(abs(least), abs(most), 1e-6):
        return f"It gives the same for all: {least:.4g}."
    return ""
