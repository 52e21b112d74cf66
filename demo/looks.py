"""Effects of the Lantern Ferry that live by their looks: fog at the mooring, ink in water."""

from __future__ import annotations

import math
from typing import Any

from demo.births_and_masks import document, prop
from demo.parts import STRAIGHT, gradient, response, row


def fog() -> dict[str, Any]:
    def post(uid: str, name: str, x: float, z: float, height: float) -> dict[str, Any]:
        return prop(
            uid,
            name,
            "shape",
            shape="cylinder",
            radius=0.11,
            height=height,
            position=row([x, -0.1, z]),
            tint=[0.12, 0.09, 0.065],
        )

    water = prop(
        "water",
        "Water",
        "shape",
        shape="plane",
        width=14.0,
        depth=14.0,
        position=row([0.0, 0.0, -1.0]),
        tint=[0.012, 0.02, 0.026],
    )
    posts = [
        post("near-post", "Near post", -0.9, 0.5, 1.35),
        post("middle-post", "Middle post", 0.75, -0.5, 1.45),
        post("far-post", "Far post", -0.1, -2.2, 1.5),
    ]
    lamp = prop(
        "lamp", "Lamp", "shape", shape="sphere", radius=0.075, position=row([0.75, 1.46, -0.5]), tint=[2.2, 1.2, 0.45]
    )
    bank = {
        "uid": "bank",
        "name": "Fog",
        "draws": [
            {"uid": "bank-size", "name": "grown", "kind": "uniform"},
            {"uid": "bank-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
            {"uid": "bank-turn", "name": "turn", "kind": "spread", "centre": row(0.0), "spread": row(0.09)},
        ],
        "births": {
            "rate": row(8),
            "place": {"kind": "box", "centre": row([-0.4, 0.16, -1.3]), "size": row([6.5, 0.3, 5.0]), "on": "inside"},
            "lifespan": row(
                9.0, response("bank-life", "draw:bank-size", STRAIGHT, output=(0.7, 1.15), read="once", shape="linear")
            ),
            "launch": {"direction": row([1.0, 0.06, 0.1]), "cone": row(0.3), "speed": row(0.1)},
            "rotation": {"base": {"source": {"kind": "draw", "draw": "bank-lean"}, "read": "once"}},
        },
        "motion": {"spin": {"base": {"source": {"kind": "draw", "draw": "bank-turn"}, "read": "once"}}},
        "forces": [
            {"kind": "wind", "uid": "bank-breath", "velocity": row([0.16, 0.0, 0.03]), "coupling": row(0.5)},
            {
                "kind": "curl_noise",
                "uid": "bank-drift",
                "octaves": 2,
                "scale": row(1.2),
                "evolution": row(0.08),
                "strength": row(0.06),
            },
        ],
        "look": {
            "sprite": "picture",
            "shelf": "puffs",
            "blend": "over",
            "soft": row(0.45),
            "page": row(0.62, response("bank-pages", "life", STRAIGHT, shape="linear")),
            "size": row(
                1.5,
                response("bank-sizes", "draw:bank-size", STRAIGHT, output=(0.6, 1.25), read="once", shape="linear"),
                response("bank-widen", "life", [(0, 0.7), (1, 1.35)]),
            ),
            "tall": row(0.62),
            "opacity": row(0.34, response("bank-fade", "life", [(0, 0), (0.22, 1), (0.7, 0.9), (1, 0)])),
            # warm where the lamp reaches
            "colour": row(
                [0.36, 0.42, 0.45],
                gradient(
                    "bank-lit",
                    {"kind": "surface", "prop": "lamp", "part": "distance"},
                    [
                        (0, (1.6, 0.95, 0.5)),
                        (0.3, (0.75, 0.58, 0.44)),
                        (0.7, (0.34, 0.4, 0.43)),
                        (1, (0.26, 0.33, 0.37)),
                    ],
                    input=(0, 1.8),
                ),
            ),
        },
    }
    # a low bank that fills the space between the posts, lit by the lamp's own light
    veil = {
        "uid": "veil",
        "name": "Low haze",
        "draws": [{"uid": "veil-size", "name": "wide", "kind": "uniform"}],
        "births": {
            "rate": row(16),
            "place": {"kind": "box", "centre": row([-0.4, 0.05, -1.0]), "size": row([6.0, 0.1, 4.5]), "on": "inside"},
            "lifespan": row(8.0),
            "launch": {"direction": row([1.0, 0.0, 0.1]), "cone": row(0.2), "speed": row(0.12)},
        },
        "forces": [
            {"kind": "wind", "uid": "veil-breath", "velocity": row([0.14, 0.0, 0.02]), "coupling": row(0.5)},
            {
                "kind": "curl_noise",
                "uid": "veil-drift",
                "octaves": 2,
                "scale": row(0.9),
                "evolution": row(0.08),
                "strength": row(0.07),
            },
        ],
        "look": {
            "sprite": "haze",
            "how": "lit",
            "cell": 0.11,
            "colour": row([0.34, 0.39, 0.42]),
            "size": row(
                0.9, response("veil-sizes", "draw:veil-size", STRAIGHT, output=(0.6, 1.2), read="once", shape="linear")
            ),
            "opacity": row(1.0, response("veil-fade", "life", [(0, 0), (0.2, 1), (0.75, 0.9), (1, 0)])),
            "density": row(0.55),
        },
    }
    halo = {
        "uid": "halo",
        "name": "Halo",
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "halo-one", "frame": 0, "count": 1}],
            "place": {"kind": "point", "centre": row([0.75, 1.46, -0.46])},
            "lifespan": {"base": {"source": {"kind": "clip_left"}, "read": "once"}},
            "launch": {"speed": row(0.0), "cone": row(0.0), "direction": row([0.0, 1.0, 0.0])},
        },
        "forces": [],
        "look": {
            "sprite": "picture",
            "shelf": "spark",
            "blend": "add",
            "size": row(1.5),
            "opacity": row(0.5),
            "colour": row([1.6, 0.8, 0.3]),
        },
        "light": {"strength": row(1.1), "reach": row(2.6), "light_colour": row([1.6, 0.85, 0.35])},
    }
    return document(
        "Mooring fog",
        "Fog over the water at the mooring: pictures of smoke that fade into the posts instead of cutting them, over "
        "a haze that fills the space between, lit by the lamp.",
        {"last_frame": 200, "seed": 17, "run_up": 200},
        {"position": [0.2, 1.15, 4.3], "target": [0.05, 0.62, 0.0], "field_of_view": 0.62},
        [water, *posts, lamp],
        [bank, veil, halo],
    )


def ink() -> dict[str, Any]:
    """Drops sink and swirl; what each leaves behind is joined into a ribbon that widens and wears thin."""
    swirl = {"kind": "curl_noise", "octaves": 2, "scale": row(0.75), "evolution": row(0.12)}
    drops = {
        "uid": "drops",
        "name": "Drops",
        "draws": [{"uid": "drops-weight", "name": "weight", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "bursts": [
                {"uid": "drops-first", "frame": 0, "count": 5},
                {"uid": "drops-second", "frame": 22, "count": 4},
                {"uid": "drops-third", "frame": 60, "count": 4},
            ],
            "place": {"kind": "disc", "centre": row([0.0, 2.02, 0.0]), "radius": row(0.1), "on": "inside"},
            "lifespan": row(
                4.2,
                response("drops-last", "draw:drops-weight", STRAIGHT, output=(0.7, 1.0), read="once", shape="linear"),
            ),
            "launch": {"direction": row([0.0, -1.0, 0.0]), "cone": row(0.5), "speed": row(0.9)},
        },
        "forces": [
            {
                "kind": "gravity",
                "uid": "drops-sink",
                "strength": row(
                    0.16, response("drops-heavy", "draw:drops-weight", STRAIGHT, output=(0.4, 1.4), shape="linear")
                ),
            },
            {"kind": "drag", "uid": "drops-water", "rate": row(0.9)},
            {**swirl, "uid": "drops-swirl", "strength": row(0.42)},
        ],
        "look": {
            "sprite": "soft_disc",
            "blend": "over",
            "size": row(0.05, response("drops-fade", "life", [(0, 1), (0.6, 0.7), (1, 0)])),
            "opacity": row(0.9),
            "hardness": row(0.4),
            "colour": row([0.012, 0.02, 0.075]),
        },
    }
    tint = gradient(
        "ink-thin", "life", [(0, (0.008, 0.014, 0.06)), (0.45, (0.02, 0.035, 0.17)), (1, (0.12, 0.1, 0.34))]
    )
    ribbon = {"sprite": "ribbon", "blend": "over", "joins": "siblings", "hardness": row(0.15)}
    veil = {
        "uid": "veil",
        "name": "Ink",
        "births": {
            "rate": row(26),
            "place": {"kind": "particles", "emitter": "drops"},
            "lifespan": row(3.4),
            "launch": {"speed": row(0.0), "cone": row(0.0), "direction": row([0.0, 1.0, 0.0]), "inherit": row(0.12)},
        },
        "forces": [
            {"kind": "drag", "uid": "veil-water", "rate": row(0.8)},
            {**swirl, "uid": "veil-swirl", "scale": row(0.6), "strength": row(0.14)},
        ],
        "look": {
            **ribbon,
            "size": row(0.3, response("veil-spread", "life", [(0, 0.06), (0.4, 0.5), (1, 1)])),
            "opacity": row(0.5, response("veil-gone", "life", [(0, 1), (0.5, 0.5), (1, 0)])),
            "colour": row([0.02, 0.03, 0.14], tint),
        },
        "also": [
            {
                **ribbon,
                "uid": "thread",
                "hardness": row(0.5),
                "size": row(0.035, response("thread-spread", "life", [(0, 0.5), (1, 1)])),
                "opacity": row(0.85, response("thread-gone", "life", [(0, 1), (0.5, 0.75), (1, 0)])),
                "colour": row([0.008, 0.014, 0.07]),
            }
        ],
    }
    return document(
        "Ink in water",
        "Drops of ink sink and swirl; the ribbons behind them join what each has left, in order of birth, and widen "
        "while they wear thin.",
        {"last_frame": 150, "seed": 5, "background": "paper"},
        {"position": [0.0, 1.15, 3.6], "target": [0.0, 1.1, 0.0], "field_of_view": 0.62},
        [],
        [drops, veil],
    )


ALL = {"ink-in-water": ink, "mooring-fog": fog}
