"""Rain, with rings where it falls."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import STRAIGHT, curve, row, source
from .parts import Beginning, effect, remarks


def document() -> dict[str, Any]:
    drop = source("draw", draw="rain-drop")
    rain = {
        "uid": "rain",
        "name": "Rain",
        "draws": [{"uid": "rain-drop", "name": "drop", "kind": "uniform"}],
        "births": {
            "rate": row(900),
            "place": {"kind": "box", "centre": row([0.0, 4.2, -0.6]), "size": row([6.0, 0.4, 4.0]), "on": "inside"},
            "lifespan": row(0.62),
            "launch": {
                "aim": "direction",
                "direction": row([0.06, -1.0, 0.0]),
                "cone": row(0.01),
                "speed": row(7.0, curve("rain-speed", drop, STRAIGHT, output=(0.9, 1.1), read="once", shape="linear")),
            },
            "rotation": row(math.radians(90 + 3.4)),
        },
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "stretch": row(26.0),
            "size": row(0.24, curve("rain-size", drop, STRAIGHT, output=(0.6, 1.2), read="once", shape="linear")),
            "opacity": row(0.5),
            "colour": row([0.55, 0.7, 0.8]),
        },
        "sheet": remarks(
            {
                "look.stretch": "A disc 26 times longer than wide, turned the way it falls, is a drop as a shutter "
                "sees it.",
                "births.lifespan": "It ends about where the ground is: rain that goes on below it is never seen, and "
                "costs.",
            }
        ),
    }
    rings = {
        "uid": "rings",
        "name": "Rings",
        "draws": [{"uid": "rings-size", "name": "wide", "kind": "uniform"}],
        "births": {
            "rate": row(150),
            "place": {"kind": "box", "centre": row([0.2, 0.0, -0.6]), "size": row([6.0, 0.0, 4.0]), "on": "inside"},
            "lifespan": row(0.7),
            "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "look": {
            "sprite": "picture",
            "shelf": "ripple",
            "blend": "add",
            "tall": row(0.22),
            "size": row(
                0.34,
                curve("rings-widen", source("life"), ((0, 0.1), (0.4, 0.65), (1, 1))),
                curve(
                    "rings-sizes",
                    source("draw", draw="rings-size"),
                    STRAIGHT,
                    output=(0.5, 1.1),
                    read="once",
                    shape="linear",
                ),
            ),
            "opacity": row(0.5, curve("rings-fade", source("life"), ((0, 1), (1, 0)))),
            "colour": row([0.5, 0.62, 0.7]),
        },
        "sheet": remarks(
            {
                "look.tall": "A ring seen at a slant is flatter than wide. Make it rounder where the camera looks "
                "from above."
            }
        ),
    }
    return effect("Rain", [rain, rings], last=100, at=(0.0, 1.2, 5.2), target=(0.0, 1.1, 0.0))


RAIN = Beginning("rain", "Rain", "Drops fall past the camera; rings run out where they meet the ground.", document)
