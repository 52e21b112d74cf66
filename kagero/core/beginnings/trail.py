"""Trails behind something that moves."""

from __future__ import annotations

from typing import Any

from ..rows.writing import STRAIGHT, colours, curve, row, source
from .parts import Beginning, effect, remarks

KITE_PATH = "vec3(1.15 * sin(clip_time * 1.7), 1.1 + 0.32 * sin(clip_time * 2.9), 0.6 * cos(clip_time * 1.7))"


def document() -> dict[str, Any]:
    kite = {
        "uid": "kite",
        "name": "Kite",
        "kind": "shape",
        "shape": "sphere",
        "radius": 0.07,
        "tint": [1.3, 0.75, 0.3],
        "position": {
            "base": {"source": {"kind": "formula", "uid": "kite-way", "text": KITE_PATH}, "read": "live"},
            "responses": [],
        },
    }
    own = source("draw", draw="streamers-own")
    along = source("along")
    streamers = {
        "uid": "streamers",
        "name": "Streamers",
        "draws": [{"uid": "streamers-own", "name": "own length", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "streamers-all", "frame": 0, "count": 9}],
            "place": {"kind": "prop", "prop": "kite", "on": "surface"},
            "lifespan": {"base": {"source": source("clip_left"), "read": "once"}, "responses": []},
            "launch": {"aim": "normal", "cone": row(0.0), "speed": row(0.0)},
        },
        "motion": {"grip": row(1000.0)},
        "look": {
            "sprite": "soft_disc",
            "blend": "add",
            "size": row(0.035),
            "opacity": row(1.0),
            "colour": row([1.6, 0.9, 0.35]),
        },
        "also": [
            {
                "sprite": "trail",
                "uid": "streamers-trail",
                "blend": "add",
                "seconds": row(1.3, curve("streamers-long", own, STRAIGHT, output=(0.45, 1.0), shape="linear")),
                "size": row(0.04, curve("streamers-wide", along, ((0, 0.35), (0.2, 1), (1, 0.1)))),
                "taper": row(0.2),
                "fade": row(1.0),
                "opacity": row(0.7),
                "colour": row(
                    [1.0, 0.6, 0.2],
                    colours(
                        "streamers-cool", along, (0, (1.9, 1.0, 0.35)), (0.3, (0.9, 0.22, 0.06)), (1, (0.1, 0.12, 0.35))
                    ),
                ),
            }
        ],
        "sheet": remarks(
            {
                "motion.grip": "Held firmly to where each was born, they go wherever the kite goes; their trails show "
                "the way.",
                "also.streamers-trail.seconds": "How far back each trail goes, in seconds: the draw "
                "gives each its own.",
                "also.streamers-trail.size": "Along the line is 0 at the particle and 100 % at the trail's far end.",
            }
        ),
    }
    return effect(
        "Trails behind a mover", [streamers], props=[kite], last=150, at=(0.0, 1.5, 4.4), target=(0.0, 1.05, 0.0)
    )


TRAIL = Beginning(
    "trail",
    "Trails behind a mover",
    "Streamers behind a kite: lines through where each of its particles was.",
    document,
)
