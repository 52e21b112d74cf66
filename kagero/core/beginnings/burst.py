"""A burst, all at one frame."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import STRAIGHT, colours, curve, row, source
from .parts import Beginning, effect, remarks


def document() -> dict[str, Any]:
    reach = source("draw", draw="burst-reach")
    burst = {
        "uid": "burst",
        "name": "Burst",
        "draws": [{"uid": "burst-reach", "name": "reach", "kind": "uniform"}],
        "births": {
            "rate": row(0),
            "bursts": [{"uid": "burst-all", "frame": 6, "count": 420}],
            "place": {"kind": "sphere", "centre": row([0.0, 1.0, 0.0]), "radius": row(0.05), "on": "inside"},
            "lifespan": row(1.5, curve("burst-last", reach, STRAIGHT, output=(0.55, 1.1), read="once", shape="linear")),
            "launch": {
                "aim": "direction",
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(math.pi),
                "speed": row(4.0, curve("burst-speed", reach, ((0, 0.1), (0.7, 0.6), (1, 1)), read="once")),
            },
        },
        "forces": [
            {"kind": "drag", "uid": "burst-air", "rate": row(3.2)},
            {"kind": "gravity", "uid": "burst-fall", "strength": row(0.7)},
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "size": row(0.06, curve("burst-size", source("life"), ((0, 0.4), (0.08, 1), (1, 0.1)))),
            "opacity": row(0.9, curve("burst-fade", source("life"), ((0, 1), (0.5, 0.8), (1, 0)))),
            "colour": row(
                [0.6, 0.8, 1.0],
                colours(
                    "burst-colour", source("life"), (0, (2.6, 2.6, 2.4)), (0.2, (0.9, 1.7, 1.6)), (1, (0.05, 0.16, 0.3))
                ),
            ),
        },
        "sheet": remarks(
            {
                "forces.burst-air.rate": "Strong drag makes the burst: out at once, then it hangs.",
                "births.launch.speed": "Slow ones fill the middle. Without this draw the burst is a hollow ball.",
            }
        ),
    }
    return effect("Burst", [burst], last=48)


BURST = Beginning("burst", "Burst", "Hundreds at one frame: out at once, then they hang and fade.", document)
