"""A fountain of sparks."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import STRAIGHT, colours, curve, row, source
from .parts import Beginning, effect, remarks


def document() -> dict[str, Any]:
    heat = source("draw", draw="sparks-heat")
    sparks = {
        "uid": "sparks",
        "name": "Sparks",
        "draws": [{"uid": "sparks-heat", "name": "heat", "kind": "uniform"}],
        "births": {
            "rate": row(320),
            "place": {"kind": "disc", "centre": row([0.0, 0.15, 0.0]), "radius": row(0.06), "on": "inside"},
            "lifespan": row(1.7, curve("sparks-last", heat, STRAIGHT, output=(0.5, 1.1), read="once", shape="linear")),
            "launch": {
                "aim": "direction",
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(math.radians(16)),
                "speed": row(
                    4.6, curve("sparks-speed", heat, STRAIGHT, output=(0.6, 1.1), read="once", shape="linear")
                ),
            },
        },
        "forces": [
            {"kind": "gravity", "uid": "sparks-fall", "strength": row(6.0)},
            {"kind": "drag", "uid": "sparks-air", "rate": row(0.5)},
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "size": row(0.045, curve("sparks-size", source("life"), ((0, 0.6), (0.1, 1), (1, 0.2)))),
            "opacity": row(1.0, curve("sparks-fade", source("life"), ((0, 1), (0.7, 0.85), (1, 0)))),
            "colour": row(
                [1.0, 0.7, 0.3],
                colours(
                    "sparks-colour",
                    source("life"),
                    (0, (3.2, 2.4, 1.2)),
                    (0.35, (2.4, 0.9, 0.2)),
                    (1, (0.4, 0.05, 0.02)),
                ),
            ),
        },
        "sheet": remarks(
            {
                "births.lifespan": "One draw, heat, makes the hot sparks both faster and longer-lived: read twice, "
                "drawn once.",
                "forces.sparks-fall.strength": "Less than the Earth's 9.8: sparks look light, and hang a moment at "
                "the top.",
                "look.colour": "Above 1 is brighter than paper white. With add, crowds of sparks burn out to white by "
                "themselves.",
            }
        ),
    }
    return effect("Fountain of sparks", [sparks], last=90, at=(0.0, 1.0, 4.4), target=(0.0, 0.85, 0.0))


SPARKS = Beginning(
    "sparks", "Fountain of sparks", "Hot sparks thrown up from a small mouth; they cool and fall.", document
)
