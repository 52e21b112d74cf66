"""Effects the bench runs: made up for it, sized by their number of particles."""

from __future__ import annotations

from typing import Any

from demo.lantern_ferry import gradient, response, row


def reference(alive: int, frames: int = 120) -> dict[str, Any]:
    """Return an effect with about `alive` particles from the first frame to the last."""
    return {
        "format": "kagero-effect", "schema_version": 2, "name": f"Bench {alive}",
        "clip": {"frame_rate": 25, "first_frame": 0, "last_frame": frames, "seed": 3},
        "camera": {"position": [0.0, 1.2, 4.6], "target": [0.0, 1.1, 0.0]},
        "emitters": [{
            "uid": "bench", "name": "Bench", "draws": [{"uid": "d", "name": "draw", "kind": "uniform"}],
            "births": {
                "rate": row(0), "bursts": [{"uid": "all", "frame": 0, "count": alive}],
                "place": {"kind": "sphere", "centre": row([0.0, 1.0, 0.0]), "radius": row(0.8)},
                "lifespan": row(10.0),
                "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.5), "speed": row(0.3)},
            },
            "forces": [
                {"kind": "buoyancy", "uid": "lift", "strength": row(0.8, response("lift-life", "life", [(0, 1), (0.5, 0.8), (1, 0.1)]))},
                {"kind": "drag", "uid": "air", "rate": row(0.8)},
                {"kind": "curl_noise", "uid": "swirl", "octaves": 1, "scale": row(0.5), "drift": row(0.25),
                 "strength": row(1.5, response("swirl-life", "life", [(0, 0), (0.5, 1), (1, 1)]))},
            ],
            "look": {
                "blend": "add",
                "size": row(0.05, response("size-life", "life", [(0, 0.3), (0.3, 1), (1, 0)]), response("size-draw", "draw:d", [(0, 0.3), (1, 1)], read="once")),
                "opacity": row(0.8, response("opacity-life", "life", [(0, 0), (0.1, 1), (1, 0)])),
                "colour": row([1.0, 0.6, 0.2], gradient("colour-life", "life", [(0, (2.0, 1.2, 0.5)), (1, (0.3, 0.05, 0.02))])),
            },
        }],
    }  # fmt: skip
