"""Births on a mesh."""

from __future__ import annotations

from typing import Any

from ..rows.writing import BREATH, STRAIGHT, curve, row, source
from .parts import Beginning, effect, remarks

BOWL = ((0.0, 0.0), (0.22, 0.0), (0.42, 0.16), (0.5, 0.42), (0.44, 0.62))


def document() -> dict[str, Any]:
    mist = {
        "uid": "mist",
        "name": "Mist",
        "draws": [{"uid": "mist-wisp", "name": "wisp", "kind": "uniform"}],
        "births": {
            "rate": row(420),
            "place": {"kind": "prop", "prop": "bowl", "on": "surface"},
            "keep": row(
                1.0, curve("mist-rim", source("height"), ((0, 0), (0.35, 0.1), (1, 1)), input=(0.5, 1.2), read="once")
            ),
            "lifespan": row(
                2.4,
                curve(
                    "mist-last",
                    source("draw", draw="mist-wisp"),
                    STRAIGHT,
                    output=(0.6, 1.2),
                    read="once",
                    shape="linear",
                ),
            ),
            "launch": {"aim": "normal", "cone": row(0.25), "speed": row(0.16)},
        },
        "forces": [
            {"kind": "buoyancy", "uid": "mist-lift", "strength": row(0.18)},
            {"kind": "drag", "uid": "mist-air", "rate": row(1.0)},
            {
                "kind": "curl_noise",
                "uid": "mist-swirl",
                "octaves": 2,
                "scale": row(0.5),
                "evolution": row(0.2),
                "strength": row(0.6),
            },
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "size": row(0.12, curve("mist-size", source("life"), ((0, 0.3), (1, 1)))),
            "opacity": row(0.16, curve("mist-fade", source("life"), BREATH)),
            "colour": row([0.55, 0.8, 0.85]),
        },
        "sheet": remarks(
            {
                "births.keep": "Births only near the rim: height, read once where each would be born.",
                "births.launch.speed": "Along the surface's normal. Bring in a mesh of your own in Props, choose it "
                "in Place, and all this holds for it.",
            }
        ),
    }
    bowl = {
        "uid": "bowl",
        "name": "Bowl",
        "kind": "shape",
        "shape": "funnel",
        "profile": [list(point) for point in BOWL],
        "position": row([0.0, 0.5, 0.0]),
        "tint": [0.34, 0.3, 0.26],
    }
    return effect("Births on a mesh", [mist], props=[bowl], at=(0.0, 1.5, 3.4), target=(0.0, 0.95, 0.0))


ON_A_MESH = Beginning(
    "on_a_mesh", "Births on a mesh", "Mist that rises from a bowl's rim; put a mesh of your own in its place.", document
)
