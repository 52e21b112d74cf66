"""Drifting dust."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import STRAIGHT, curve, row, source
from .parts import Beginning, effect, remarks


def document() -> dict[str, Any]:
    grain = source("draw", draw="dust-grain")
    dust = {
        "uid": "dust",
        "name": "Dust",
        "draws": [{"uid": "dust-grain", "name": "grain", "kind": "uniform"}],
        "births": {
            "rate": row(55),
            "place": {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([3.6, 1.8, 1.6]), "on": "inside"},
            "lifespan": row(6.0),
            "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(math.pi), "speed": row(0.02)},
        },
        "forces": [
            {"kind": "wind", "uid": "dust-draught", "velocity": row([0.1, 0.02, 0.0]), "coupling": row(0.8)},
            {
                "kind": "curl_noise",
                "uid": "dust-swirl",
                "octaves": 2,
                "scale": row(0.9),
                "evolution": row(0.1),
                "strength": row(0.16),
            },
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "size": row(0.022, curve("dust-size", grain, ((0, 0), (0.8, 0.3), (1, 1)), output=(0.4, 2.6), read="once")),
            "opacity": row(
                0.5,
                curve("dust-fade", source("life"), ((0, 0), (0.3, 1), (0.7, 1), (1, 0))),
                curve(
                    "dust-light",
                    source("position", part="y"),
                    STRAIGHT,
                    input=(0.1, 1.9),
                    output=(0.25, 1),
                    shape="linear",
                ),
            ),
            "colour": row([1.0, 0.86, 0.62]),
        },
        "sheet": remarks(
            {
                "look.size": "Most are small and a few are large: the curve over the draw says how few.",
                "look.opacity": "Slow in, slow out, so that nobody sees one come or go; and fainter below, as if the "
                "light came from above.",
            }
        ),
    }
    drifting = effect("Drifting dust", [dust], last=150, at=(0.0, 1.0, 3.6), target=(0.0, 1.0, 0.0))
    drifting["clip"]["run_up"] = 150  # the air is full when the clip begins
    return drifting


DUST = Beginning("dust", "Drifting dust", "Motes in a room's air; a few are large, all drift.", document)
