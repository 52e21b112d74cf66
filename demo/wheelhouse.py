"""The Lantern Ferry's wheelhouse: a lit window and a bell that swings, and the motes that drift out of the light."""

from __future__ import annotations

import math
from typing import Any

from demo.parts import STRAIGHT, file, gradient, prop, response, row, written


def wheelhouse_window() -> dict[str, Any]:
    props = [
        prop(
            "window",
            "Wheelhouse window",
            "picture",
            files=[file("window.png")],
            position=row([-0.35, 1.2, 0.0]),
            rotation=row([0.0, 0.2, 0.0]),
            shown="ghost",
        ),
        prop(
            "bell",
            "Bell",
            "shape",
            shape="funnel",
            tint=[0.35, 0.22, 0.09],
            profile=[[0.3, 0.0], [0.265, 0.03], [0.2, 0.14], [0.165, 0.3], [0.14, 0.4], [0.06, 0.46], [0.0, 0.47]],
            position=row([1.05, 1.35, 0.15]),
            rotation=written("bell-swing", "vec3(0, 0, 0.35 * sin(clip_time * 4) * exp(-0.3 * clip_time))"),
        ),
    ]
    motes = {
        "uid": "motes",
        "name": "Motes",
        "draws": [{"uid": "motes-grain", "name": "grain", "kind": "uniform"}],
        "births": {
            "rate": row(260),
            "place": {"kind": "prop", "prop": "window", "on": "surface", "offset": row(0.01)},
            "lifespan": row(
                3.2,
                response("motes-life", "draw:motes-grain", STRAIGHT, output=(0.5, 1.2), read="once", shape="linear"),
            ),
            "launch": {
                "direction": row([0.0, 0.15, 1.0]),
                "cone": row(math.radians(30)),
                "speed": row(0.12),
                "space": "own",
            },
        },
        "forces": [
            # the swinging bell stirs the air
            {
                "kind": "wind",
                "uid": "motes-stir",
                "velocity": written("motes-air", "vec3(0.5 * cos(clip_time * 4) * exp(-0.3 * clip_time), 0.08, 0.1)"),
                "coupling": row(0.9),
            },
            {
                "kind": "curl_noise",
                "uid": "motes-swirl",
                "octaves": 2,
                "scale": row(0.5),
                "evolution": row(0.2),
                "strength": row(0.25),
            },
        ],
        "look": {
            "blend": "add",
            "size": row(
                0.028,
                response("motes-size", "draw:motes-grain", STRAIGHT, output=(0.4, 1.4), read="once", shape="linear"),
            ),
            "opacity": row(0.9, response("motes-fade", "life", [(0, 0), (0.12, 1), (0.6, 0.7), (1, 0)])),
            # each keeps the glow of the glass that it came through
            "colour": row(
                [1.0, 0.6, 0.2],
                gradient(
                    "motes-glass",
                    {"kind": "picture", "prop": "window", "at": "birth", "part": "luminance"},
                    [(0, (0.08, 0.2, 0.34)), (0.35, (0.9, 0.42, 0.12)), (1, (1.5, 1.05, 0.55))],
                    read="once",
                ),
            ),
        },
    }
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Wheelhouse window",
        "note": "Motes drift out of the window, as warm as its glass is bright; the bell stirs them as it swings.",
        "clip": {
            "frame_rate": [24, 1],
            "first_frame": 0,
            "last_frame": 96,
            "seed": 3,
            "run_up": 48,
            "background": "ink",
        },
        "camera": {"position": [0.35, 1.35, 3.2], "target": [0.3, 1.3, 0.0], "field_of_view": 0.62},
        "props": props,
        "emitters": [motes],
    }
