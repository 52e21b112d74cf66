"""Smoke from a point."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import STRAIGHT, curve, row, source
from .parts import Beginning, effect, remarks


def document() -> dict[str, Any]:
    puff = source("draw", draw="smoke-puff")
    smoke = {
        "uid": "smoke",
        "name": "Smoke",
        "draws": [
            {"uid": "smoke-puff", "name": "puff", "kind": "uniform"},
            {"uid": "smoke-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
            {"uid": "smoke-turn", "name": "turn", "kind": "spread", "centre": row(0.0), "spread": row(0.5)},
        ],
        "births": {
            "rate": row(16),
            "place": {"kind": "point", "centre": row([0.0, 0.12, 0.0])},
            "lifespan": row(3.6, curve("smoke-last", puff, STRAIGHT, output=(0.8, 1.15), read="once", shape="linear")),
            "launch": {
                "aim": "direction",
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(math.radians(9)),
                "speed": row(0.75),
            },
            "rotation": {"base": {"source": {"kind": "draw", "draw": "smoke-lean"}, "read": "once"}},
        },
        "forces": [
            {"kind": "drag", "uid": "smoke-slows", "rate": row(0.35)},
            {
                "kind": "curl_noise",
                "uid": "smoke-wanders",
                "octaves": 2,
                "scale": row(0.9),
                "evolution": row(0.2),
                "strength": row(0.12),
            },
        ],
        "motion": {"spin": {"base": {"source": {"kind": "draw", "draw": "smoke-turn"}, "read": "once"}}},
        "look": {
            "sprite": "picture",
            "shelf": "puffs",
            "blend": "over",
            "page": row(1.0, curve("smoke-pages", source("life"), STRAIGHT, shape="linear")),
            "size": row(1.15, curve("smoke-widens", source("life"), ((0, 0.12), (0.25, 0.45), (1, 1.0)))),
            "opacity": row(0.6, curve("smoke-fades", source("life"), ((0, 0), (0.06, 1), (0.6, 0.7), (1, 0)))),
            "colour": row([0.62, 0.6, 0.58]),
        },
        "sheet": remarks(
            {
                "births.rate": "Few are enough: each puff is a picture of smoke that lives 64 pages.",
                "look.page": "Over a life all pages are seen once. Where they are few, they blend, moved by a picture "
                "of their motion.",
                "look.size": "It widens most at first, as smoke does; that hides that it begins at a point.",
            }
        ),
    }
    return effect("Smoke from a point", [smoke], last=110, at=(0.0, 1.15, 4.6), target=(0.0, 1.0, 0.0))


SMOKE = Beginning(
    "smoke", "Smoke from a point", "Puffs of smoke from a book of pictures rise, turn and wear thin.", document
)
