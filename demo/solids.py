"""Effects of the Lantern Ferry made of bodies: the tiller's sweep, lamp oil."""

from __future__ import annotations

import math
from typing import Any

from demo.births_and_masks import document, prop
from demo.parts import STRAIGHT, finish, gradient, response, row, written


def sweep() -> dict[str, Any]:
    """Three strokes, each one piece: a band with a picture that runs along it, is eaten away and grows."""
    props = [
        prop(
            "blade",
            "Blade",
            "shape",
            shape="box",
            width=0.07,
            height=1.5,
            depth=0.03,
            position=row([0.0, 0.85, 0.0]),
            tint=[0.16, 0.1, 0.055],
        ),
        prop("deck", "Deck", "shape", shape="plane", width=7.0, depth=7.0, tint=[0.022, 0.026, 0.03]),
        prop(
            "streaks",
            "Streaks",
            "made",
            pattern="noise",
            count=row(5.0),
            contrast=row(2.4),
            level=row(-0.12),
            roughness=row(0.6),
            shown="hidden",
            in_pictures=False,
        ),
        prop(
            "grain",
            "Grain",
            "made",
            pattern="noise",
            count=row(7.0),
            contrast=row(1.6),
            shown="hidden",
            in_pictures=False,
        ),
    ]
    life = {"rate": row(0.0), "launch": {"speed": row(0.0), "cone": row(0.0), "direction": row([0.0, 1.0, 0.0])}}
    at = {"kind": "point", "centre": row([0.0, 0.9, 0.0])}
    strokes = [{"uid": f"stroke-{frame}", "frame": frame, "count": 1} for frame in (4, 40, 76)]
    tilt = {"base": {"source": {"kind": "draw", "draw": "cut-tilt"}, "read": "once"}, "responses": []}
    turns = response("cut-turns", "life", [(0, 0), (0.35, 0.75), (1, 1)], output=(0.0, -2.6), operation="add")
    cut = {
        "uid": "cut",
        "name": "Sweep",
        "draws": [
            {"uid": "cut-tilt", "name": "tilt", "kind": "uniform", "low": row(-0.5), "high": row(0.5)},
            {"uid": "cut-from", "name": "from", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
        ],
        "births": {**life, "bursts": strokes, "place": at, "lifespan": row(1.05)},
        "look": {
            "sprite": "piece",
            "form": "sweep",
            "faces": "world",
            "drawn_with": "picture",
            "pictures": ["streaks"],
            "edges": "repeat",
            "blend": "add",
            "lit": False,
            "tiles_across": row(2.0),
            "tiles_down": row(1.0),
            "offset_across": row(
                0.0, response("cut-runs", "life", STRAIGHT, output=(0.0, -1.6), operation="add", shape="linear")
            ),
            # small at first, and out it goes
            "size": row(2.7, response("cut-grows", "life", [(0, 0.4), (0.25, 0.9), (1, 1.12)])),
            "opacity": row(1.0, response("cut-fade", "life", [(0, 0), (0.08, 1), (0.55, 0.8), (1, 0)])),
            "cut": row(
                0.0, response("cut-eaten", "life", [(0, 0.62), (0.14, 0.12), (0.4, 0.3), (1, 1)], operation="set")
            ),
            "cut_by": "grain",
            "cut_soft": row(0.25),
            "rim": row(0.1),
            "rim_colour": row([2.6, 1.7, 0.7]),
            "yaw": {"base": {"source": {"kind": "draw", "draw": "cut-from"}, "read": "once"}, "responses": [turns]},
            "pitch": tilt,
            "colour": row(
                [1.0, 0.9, 0.6],
                gradient("cut-cools", "life", [(0, (2.4, 1.9, 1.1)), (0.3, (1.1, 0.75, 0.35)), (1, (0.12, 0.2, 0.26))]),
            ),
        },
    }
    spray = {
        "uid": "spray",
        "name": "Splinters",
        "draws": [{"uid": "spray-luck", "name": "luck", "kind": "uniform"}],
        "births": {
            **life,
            "bursts": [{"uid": f"spray-{frame}", "frame": frame + 3, "count": 26} for frame in (4, 40, 76)],
            "place": {"kind": "disc", "centre": row([0.0, 0.9, 0.0]), "radius": row(1.1), "on": "inside"},
            "lifespan": row(
                1.5, response("spray-last", "draw:spray-luck", STRAIGHT, output=(0.6, 1.1), read="once", shape="linear")
            ),
            "launch": {"aim": "away", "origin": row([0.0, 0.7, 0.0]), "cone": row(0.5), "speed": row(1.7)},
        },
        "motion": {
            "turning": {
                "spin": row(
                    [7.0, 3.0, 5.0],
                    response(
                        "spray-spin", "draw:spray-luck", STRAIGHT, output=(-1.4, 1.4), read="once", shape="linear"
                    ),
                ),
                "damping": row(0.6),
            }
        },
        "forces": [
            {"kind": "gravity", "uid": "spray-falls", "strength": row(0.35)},
            {"kind": "drag", "uid": "spray-air", "rate": row(0.8)},
        ],
        "look": {
            "sprite": "piece",
            "form": "shard",
            "faces": "space",
            "size": row(
                0.1,
                response("spray-size", "draw:spray-luck", STRAIGHT, output=(0.4, 1.3), read="once", shape="linear"),
                response("spray-gone", "life", [(0, 1), (0.7, 0.9), (1, 0)]),
            ),
            "opacity": row(1.0),
            "colour": row([0.55, 0.36, 0.18]),
            "both": False,
        },
    }
    return document(
        "Tiller's sweep",
        "The tiller is swung round three times: each stroke is one piece, a band whose picture runs along it and is "
        "eaten away, with splinters off the deck.",
        {"last_frame": 110, "seed": 9},
        {"position": [0.2, 2.0, 4.3], "target": [0.0, 0.75, 0.0], "field_of_view": 0.62},
        props,
        [cut, spray],
        finish=[
            finish(
                "cut-glow",
                "glow",
                strength=0.7,
                width=7.0,
                threshold=0.3,
                knee=0.3,
                tint=[1.0, 0.75, 0.5],
                emitters=["cut"],
            )
        ],
    )


def lamp_oil() -> dict[str, Any]:
    """Drops of oil rise in a glass of water, meet, part and sink again: one surface, whose size and level are dials."""

    def dial(uid: str, name: str, value: float, low: float, high: float, unit: str, about: str) -> dict[str, Any]:
        return {
            "uid": uid,
            "name": name,
            "value": value,
            "default": value,
            "low": low,
            "high": high,
            "unit": unit,
            "note": about,
        }

    def driven(uid: str) -> dict[str, Any]:
        return {"base": {"source": {"kind": "dial", "dial": uid}, "read": "live"}, "responses": []}

    props = [
        prop(
            "foot",
            "Foot",
            "shape",
            shape="cylinder",
            radius=0.5,
            height=0.16,
            position=row([0.0, 0.0, 0.0]),
            tint=[0.3, 0.2, 0.08],
        ),
        prop(
            "cap",
            "Cap",
            "shape",
            shape="cylinder",
            radius=0.4,
            height=0.1,
            position=row([0.0, 2.0, 0.0]),
            tint=[0.3, 0.2, 0.08],
        ),
        # what comes into it is drawn aside, and back again when it has gone by
        prop(
            "passing",
            "Passing",
            "mask",
            shape="sphere",
            radius=row(0.12),
            falloff=row(0.5),
            position=written("passing-by", "vec3(0.1, 1.05 - 0.95 * cos(clip_time * 0.8), 0)"),
            shown="hidden",
        ),
        prop("wick", "Wick", "shape", shape="sphere", radius=0.09, position=row([0.0, 0.2, 0.0]), tint=[3.0, 1.5, 0.4]),
    ]
    warm = gradient(
        "oil-warm",
        "height",
        [(0, (2.2, 0.75, 0.12)), (0.35, (1.15, 0.45, 0.09)), (1, (0.55, 0.16, 0.07))],
        input=(0.2, 1.9),
    )
    oil = {
        "uid": "oil",
        "name": "Oil",
        "draws": [
            {"uid": "oil-size", "name": "grown", "kind": "uniform"},
            {"uid": "oil-phase", "name": "phase", "kind": "uniform", "low": row(0.0), "high": row(9.0)},
        ],
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "oil-all", "frame": 0, "count": 26}],
            "place": {"kind": "box", "centre": row([0.0, 1.05, 0.0]), "size": row([0.7, 1.5, 0.7]), "on": "inside"},
            "lifespan": row(30.0),
            "launch": {"speed": row(0.0), "cone": row(0.0), "direction": row([0.0, 1.0, 0.0])},
        },
        "forces": [
            {
                "kind": "buoyancy",
                "uid": "oil-lift",
                "strength": {**written("oil-swing", "0.11 * sin(1.1 * (clip_time + draws.phase))"), "responses": []},
            },
            {"kind": "drag", "uid": "oil-thick", "rate": row(1.3)},
            {
                "kind": "curl_noise",
                "uid": "oil-swirl",
                "octaves": 1,
                "scale": row(0.7),
                "evolution": row(0.15),
                "strength": row(0.22),
            },
            {"kind": "pull", "uid": "oil-middle", "to": "line", "strength": row(0.16), "point": row([0.0, 1.0, 0.0])},
        ],
        "look": {
            "sprite": "blob",
            "cell": 0.022,
            "gloss": 0.7,
            "opacity": row(1.0),
            "colour": row([1.0, 0.5, 0.12], warm),
            "size": {
                **driven("radius"),
                "responses": [response("oil-sizes", "draw:oil-size", [(0, 0.45), (0.7, 0.8), (1, 1.5)], read="once")],
            },
            "level": driven("level"),
            "smooth": row(1.7),
        },
        "shaping": [
            {
                "kind": "by_mask",
                "uid": "aside",
                "mask": "passing",
                "amount": row(0.42),
                "direction": row([1.0, 0.25, 0.0]),
            }
        ],
    }
    body = document(
        "Lamp oil",
        "Oil in a glass of water, warmed from below: drops rise, run together and part. How large they are and how "
        "soon they meet are dials.",
        {"last_frame": 200, "seed": 21, "run_up": 50},
        {"position": [0.0, 1.2, 4.0], "target": [0.0, 1.05, 0.0], "field_of_view": 0.62},
        props,
        [oil],
    )
    return {
        **body,
        "dials": [
            dial("radius", "Drop size", 0.27, 0.08, 0.6, "m", "How wide a drop is by itself."),
            dial(
                "level", "Level", 1.0, 0.4, 2.0, "", "Where the surface is: more makes drops thinner, and part sooner."
            ),
        ],
    }


ALL = {"tillers-sweep": sweep, "lamp-oil": lamp_oil}
