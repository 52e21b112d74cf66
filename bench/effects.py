"""Effects the bench runs: made up for it, sized by their number of particles."""

from __future__ import annotations

import copy
from typing import Any

from demo.parts import gradient, response, row


def reference(alive: int, frames: int = 120) -> dict[str, Any]:
    """Return an effect with about `alive` particles from the first frame to the last."""
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": f"Bench {alive}",
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": frames, "seed": 3},
        "camera": {"position": [0.0, 1.2, 4.6], "target": [0.0, 1.1, 0.0]},
        "emitters": [
            {
                "uid": "bench",
                "name": "Bench",
                "draws": [{"uid": "d", "name": "draw", "kind": "uniform"}],
                "births": {
                    "rate": row(0),
                    "bursts": [{"uid": "all", "frame": 0, "count": alive}],
                    "place": {"kind": "sphere", "centre": row([0.0, 1.0, 0.0]), "radius": row(0.8)},
                    "lifespan": row(10.0),
                    "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.5), "speed": row(0.3)},
                },
                "forces": [
                    {
                        "kind": "buoyancy",
                        "uid": "lift",
                        "strength": row(0.8, response("lift-life", "life", [(0, 1), (0.5, 0.8), (1, 0.1)])),
                    },
                    {"kind": "drag", "uid": "air", "rate": row(0.8)},
                    {
                        "kind": "curl_noise",
                        "uid": "swirl",
                        "octaves": 1,
                        "scale": row(0.5),
                        "evolution": row(0.25),
                        "strength": row(1.5, response("swirl-life", "life", [(0, 0), (0.5, 1), (1, 1)])),
                    },
                ],
                "look": {
                    "blend": "add",
                    "size": row(
                        0.05,
                        response("size-life", "life", [(0, 0.3), (0.3, 1), (1, 0)]),
                        response("size-draw", "draw:d", [(0, 0.3), (1, 1)], read="once"),
                    ),
                    "opacity": row(0.8, response("opacity-life", "life", [(0, 0), (0.1, 1), (1, 0)])),
                    "colour": row(
                        [1.0, 0.6, 0.2], gradient("colour-life", "life", [(0, (2.0, 1.2, 0.5)), (1, (0.3, 0.05, 0.02))])
                    ),
                },
            }
        ],
    }


def mapped(alive: int, frames: int = 120) -> dict[str, Any]:
    """Return the reference effect with 20 responses on its emitter, settings of responses among them."""
    result = copy.deepcopy(reference(alive, frames))
    emitter = result["emitters"][0]
    look, (lift, air, swirl) = emitter["look"], emitter["forces"]
    straight = [(0.0, 0.0), (1.0, 1.0)]
    more = lambda uid, source, low, high, **also: response(
        uid, source, straight, output=(low, high), shape="linear", **also
    )
    lift["strength"]["responses"] += [
        more("lift-draw", "draw:d", 0.7, 1.3, read="once"),
        more("lift-height", "height", 1, 0.5, input=(0, 3)),
    ]
    air["rate"]["responses"] += [
        more("air-speed", "speed", 0.5, 1.5, input=(0, 2)),
        more("air-age", "age", 1, 0.8, input=(0, 5)),
    ]
    swirl["strength"]["responses"] += [
        more("swirl-draw", "draw:d", 0.5, 1.5, read="once"),
        more("swirl-height", "height", 0.5, 1, input=(0, 3)),
    ]
    swirl["scale"]["responses"] += [more("scale-life", "life", 0.8, 1.2)]
    look["size"]["responses"] += [
        more("size-speed", "speed", 0.8, 1.2, input=(0, 2)),
        more("size-time", "clip_time", 1, 0.9, input=(0, 5)),
    ]
    look["size"]["responses"][0]["shift"] = row(
        0.0, more("size-shift", "draw:d", -0.1, 0.1, read="once", operation="add")
    )
    look["opacity"]["responses"] += [
        more("opacity-height", "height", 1, 0.6, input=(0, 3)),
        more("opacity-draw", "draw:d", 0.6, 1, read="once"),
    ]
    look["colour"]["responses"] += [
        more("colour-speed", "speed", 0.7, 1.3, input=(0, 2)),
        more("colour-height", "height", 1, 0.8, input=(0, 3)),
    ]
    return result
