"""Words that break up."""

from __future__ import annotations

from typing import Any

from ..rows.writing import STRAIGHT, curve, row, source
from .parts import Beginning, effect, remarks

GROWING = "vec3(max(clip_time - 0.4, 0) * 1.6, 3, 3)"


def document() -> dict[str, Any]:
    passed = {"kind": "mask", "mask": "front", "part": "latched"}
    letters = {
        "uid": "letters",
        "name": "Letters",
        "draws": [{"uid": "letters-grain", "name": "grain", "kind": "uniform"}],
        "births": {
            "rate": row(0),
            "bursts": [{"uid": "letters-all", "frame": 0, "count": 2600}],
            "place": {"kind": "prop", "prop": "words", "on": "surface"},
            "lifespan": row(30.0),
            "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "motion": {"grip": row(1000.0, curve("letters-free", passed, ((0, 1), (0.5, 0), (1, 0)), shape="hold"))},
        "forces": [
            {"kind": "wind", "uid": "letters-wind", "velocity": row([0.8, 0.3, 0.0]), "coupling": row(0.9)},
            {
                "kind": "curl_noise",
                "uid": "letters-swirl",
                "octaves": 2,
                "scale": row(0.5),
                "evolution": row(0.2),
                "strength": row(1.4),
            },
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "over",
            "size": row(
                0.03,
                curve(
                    "letters-gone",
                    {"kind": "mask", "mask": "front", "part": "since"},
                    ((0, 1), (0.3, 0.8), (1, 0)),
                    input=(0, 1.8),
                ),
                curve(
                    "letters-size",
                    source("draw", draw="letters-grain"),
                    STRAIGHT,
                    output=(0.5, 1.4),
                    read="once",
                    shape="linear",
                ),
            ),
            "opacity": row(0.95),
            "colour": row([0.95, 0.78, 0.5]),
        },
        "sheet": remarks(
            {
                "motion.grip": "Held to the words until the mask has passed, then let go: a curve over the mask, once "
                "touched.",
                "look.size": "Its clock begins when the mask touches it, not at birth.",
                "births.place": "Write other words in Props: they break up as well.",
            }
        ),
    }
    props: list[dict[str, Any]] = [
        {
            "uid": "words",
            "name": "Words",
            "kind": "text",
            "text": "Kagero",
            "height": 0.5,
            "depth": 0.02,
            "position": row([0.0, 0.8, 0.0]),
            "shown": "hidden",
            "in_pictures": False,
            "tint": [0.5, 0.4, 0.24],
        },
        {
            "uid": "front",
            "name": "Front",
            "kind": "mask",
            "shape": "box",
            "falloff": row(0.15),
            "edge": row(0.1),
            "noise_scale": row(0.2),
            "shown": "hidden",
            "in_pictures": False,
            "position": row([-1.6, 1.0, 0.0]),
            "size": {
                "base": {"source": {"kind": "formula", "uid": "front-size", "text": GROWING}, "read": "live"},
                "responses": [],
            },
        },
    ]
    return effect("Words that break up", [letters], props=props, last=125, at=(0.0, 1.05, 3.9), target=(0.1, 1.05, 0.0))


WORDS = Beginning(
    "words", "Words that break up", "A front passes over words: they come off, drift and are gone.", document
)
