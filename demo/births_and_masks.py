"""Five effects of the Lantern Ferry about where, when and how many: pollen, frost, the paper crane, the bell, the
burning name."""

from __future__ import annotations

import math
from typing import Any

from demo.parts import STRAIGHT, file, gradient, prop, response, row, written


def mask(uid: str, name: str, shape: str, **more: Any) -> dict[str, Any]:
    return prop(uid, name, "mask", shape=shape, shown="hidden", **more)


def of_mask(uid: str, part: str = "value") -> dict[str, Any]:
    return {"kind": "mask", "mask": uid, "part": part}


def document(
    name: str,
    note: str,
    clip: dict[str, Any],
    camera: dict[str, Any],
    props: list[Any],
    emitters: list[Any],
    **more: Any,
) -> dict[str, Any]:
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": name,
        "note": note,
        "clip": {"frame_rate": [25, 1], "first_frame": 0, **clip},
        "camera": camera,
        "props": props,
        "emitters": emitters,
        **more,
    }


def reed_pollen() -> dict[str, Any]:
    props = [
        prop("reeds", "Reeds", "mesh", file=file("reeds.glb"), tint=[1.0, 1.0, 1.0]),
        mask(
            "lee",
            "Lee side",
            "plane",
            position=row([0.2, 0.0, 0.0]),
            rotation=row([0.0, 0.0, math.radians(90)]),
            falloff=row(0.9),
        ),
    ]
    pollen = {
        "uid": "pollen",
        "name": "Pollen",
        "draws": [{"uid": "pollen-grain", "name": "grain", "kind": "uniform"}],
        "births": {
            "rate": row(2600),
            "place": {"kind": "prop", "prop": "reeds", "on": "surface", "offset": row(0.01)},
            "keep": row(
                1.0, response("pollen-tips", "height", [(0, 0), (0.4, 0.05), (1, 1)], input=(0, 1.5), read="once")
            ),
            "lifespan": row(
                5.0,
                response("pollen-life", "draw:pollen-grain", STRAIGHT, output=(0.6, 1.2), read="once", shape="linear"),
            ),
            "launch": {"direction": row([0.3, 1.0, 0.0]), "cone": row(math.radians(70)), "speed": row(0.12)},
        },
        "forces": [
            {"kind": "wind", "uid": "pollen-breeze", "velocity": row([0.45, 0.06, 0.0]), "coupling": row(0.8)},
            {
                "kind": "curl_noise",
                "uid": "pollen-swirl",
                "octaves": 2,
                "scale": row(0.8),
                "evolution": row(0.25),
                "strength": row(0.5),
            },
        ],
        "look": {
            "sprite": "picture",
            "shelf": "spark",
            "blend": "add",
            "size": row(
                0.06,
                response("pollen-size", "draw:pollen-grain", STRAIGHT, output=(0.4, 1.3), read="once", shape="linear"),
            ),
            "opacity": row(0.8, response("pollen-fade", "life", [(0, 0), (0.1, 1), (0.75, 0.9), (1, 0)])),
            # which side it was born on is read once: it keeps its colour wherever the wind takes it
            "colour": row(
                [1.0, 0.8, 0.3],
                gradient(
                    "pollen-side",
                    of_mask("lee"),
                    [(0, (1.1, 0.7, 0.16)), (0.45, (1.0, 0.75, 0.3)), (1, (0.42, 0.8, 0.5))],
                    read="once",
                ),
            ),
        },
        "thinning": {"prop": None, "outer": row(9.0), "inner": row(0.35), "view": True, "margin": row(0.08)},
    }
    return document(
        "Reed pollen",
        "Pollen from the reeds by the landing: gold on one side, green on the other, thinned out by the camera.",
        {"last_frame": 150, "seed": 5, "run_up": 60},
        {"position": [0.3, 1.15, 4.4], "target": [0.3, 0.95, 0.0], "field_of_view": 0.62},
        props,
        [pollen],
    )


def frost() -> dict[str, Any]:
    brightness = {"kind": "picture", "prop": "frost-map", "at": "near", "part": "luminance"}
    props = [
        prop("pane", "Cabin window", "picture", files=[file("pane.png")], position=row([0.0, 1.0, 0.0])),
        prop(
            "frost-map",
            "Frost map",
            "picture",
            files=[file("frost.png")],
            position=row([0.0, 1.0, 0.012]),
            shown="hidden",
            in_pictures=False,
        ),
        mask(
            "cells", "Crystals", "noise", noise_scale=row(0.09), level=row(-0.1), softness=row(0.35), amplitude=row(1.0)
        ),
    ]
    crystals = {
        "uid": "crystals",
        "name": "Crystals",
        "draws": [
            {"uid": "crystals-facet", "name": "facet", "kind": "uniform"},
            {"uid": "crystals-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.pi)},
        ],
        "births": {
            "rate": row(1500),
            "duration": 4.4,
            "when": "each",
            "place": {
                "kind": "prop",
                "prop": "frost-map",
                "on": "surface",
                "offset": row(0.004),
                "density": {
                    "picture": "frost-map",
                    "channel": "luminance",
                    "invert": False,
                    "curve": {"keys": [{"x": x, "y": x**1.6, "shape": "smooth"} for x in (0.0, 0.3, 0.6, 1.0)]},
                },
            },
            # the thickest frost comes first, and creeps inward from there
            "begins": row(
                0.0, response("crystals-when", brightness, [(0, 1), (0.35, 0.8), (1, 0)], read="once", operation="set")
            ),
            "keep": row(1.0, response("crystals-edge", of_mask("cells"), STRAIGHT, read="once", shape="linear")),
            "lifespan": row(60.0),
            "launch": {"direction": row([0.0, 0.0, 1.0]), "cone": row(0.0), "speed": row(0.0)},
            "rotation": {"base": {"source": {"kind": "draw", "draw": "crystals-lean"}, "read": "once"}},
        },
        "look": {
            "sprite": "picture",
            "shelf": "feather",
            "blend": "over",
            "size": row(
                0.075,
                response("crystals-grow", "age", [(0, 0), (0.5, 0.7), (1, 1)], input=(0, 1.4)),
                response(
                    "crystals-facet-size",
                    "draw:crystals-facet",
                    [(0, 0.3), (0.8, 0.6), (1, 1.5)],
                    output=(0, 1),
                    read="once",
                ),
            ),
            "opacity": row(0.8, response("crystals-in", "age", STRAIGHT, input=(0, 0.5), shape="linear")),
            "colour": row(
                [0.5, 0.75, 1.0],
                gradient(
                    "crystals-tint",
                    "draw:crystals-facet",
                    [(0, (0.25, 0.45, 0.7)), (0.8, (0.5, 0.72, 0.95)), (1, (1.1, 1.2, 1.3))],
                    read="once",
                ),
            ),
        },
    }
    return document(
        "Frost on the cabin window",
        "Frost creeps in from the frame: as dense as its picture is bright, the thickest first, its edge broken into "
        "crystals.",
        {"last_frame": 140, "seed": 11},
        {"position": [0.0, 1.0, 2.1], "target": [0.0, 1.0, 0.0], "field_of_view": 0.62},
        props,
        [crystals],
    )


def paper_crane() -> dict[str, Any]:
    props = [
        prop(
            "crane",
            "Crane",
            "mesh",
            file=file("paper-crane.glb"),
            loops=True,
            scale=row([3.2, 3.2, 3.2]),
            position=row([0.0, 1.1, 0.0]),
            rotation=written("crane-turn", "vec3(0.1, 0.5 + 0.1 * sin(clip_time), 0)"),
            tint=[1.0, 1.0, 1.0],
            shown="hidden",
            in_pictures=False,
        ),
        mask(
            "sweep",
            "Sweep",
            "sphere",
            radius=written("sweep-radius", "0.05 + 0.42 * clip_time"),
            falloff=row(0.12),
            edge=row(0.06),
            noise_scale=row(0.16),
            position=row([-0.85, 1.35, 0.1]),
        ),
    ]

    touched, since = of_mask("sweep", "latched"), of_mask("sweep", "since")

    def leaves(uid: str, torque: list[float]) -> dict[str, Any]:
        """Held to the beating crane until the sweep has passed, then let go, and tumbling."""
        return {
            "grip": row(1000.0, response(f"{uid}-let-go", touched, [(0, 1), (0.5, 0), (1, 0)], shape="hold")),
            "turning": {
                "torque": row(
                    torque,
                    response(f"{uid}-tumbles", touched, STRAIGHT, shape="linear"),
                    response(
                        f"{uid}-each", f"draw:{uid}-shape", STRAIGHT, output=(-1.6, 1.6), read="once", shape="linear"
                    ),
                ),
                "damping": row(1.1),
                "inertia": row([1.0, 1.6, 2.6]),
            },
        }

    still = {"lifespan": row(30.0), "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)}}

    def air(uid: str) -> list[dict[str, Any]]:
        return [
            {
                "kind": "curl_noise",
                "uid": f"{uid}-swirl",
                "octaves": 2,
                "scale": row(0.6),
                "evolution": row(0.2),
                "strength": row(1.3),
            },
            {"kind": "wind", "uid": f"{uid}-breeze", "velocity": row([0.7, 0.25, 0.0]), "coupling": row(0.7)},
        ]

    paper = {
        "uid": "paper",
        "name": "Paper",
        "draws": [{"uid": "paper-shape", "name": "paper shape", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "place": {"kind": "parts", "prop": "crane", "into": "scraps", "count": 400, "splinters": 0.12},
            **still,
        },
        "motion": leaves("paper", [7.0, 3.0, 5.0]),
        "forces": air("paper"),
        # the scraps are the crane, in its own pattern; its own clock, since it was touched: each is gone in the end
        "look": {
            "sprite": "piece",
            "form": "part",
            "blend": "over",
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
            "size": row(1.0, response("paper-clock", since, [(0, 1), (0.4, 0.85), (1, 0)], input=(0, 3.2))),
        },
    }
    heart = {
        "uid": "heart",
        "name": "Heart",
        "draws": [{"uid": "heart-shape", "name": "heart shape", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "heart-all", "frame": 0, "count": 500}],
            "place": {"kind": "prop", "prop": "crane", "on": "inside"},
            **still,
        },
        "motion": leaves("heart", [7.0, 3.0, 5.0]),
        "forces": air("heart"),
        "look": {
            "sprite": "picture",
            "shelf": "scrap",
            "faces": "space",
            "blend": "over",
            "wide": row(0.75),
            "size": row(
                0.05,
                response("heart-clock", since, [(0, 0), (0.04, 1), (0.3, 0.8), (1, 0)], input=(0, 2.8)),
                response("heart-shapes", "draw:heart-shape", STRAIGHT, output=(0.4, 1.3), read="once", shape="linear"),
            ),
            "opacity": row(0.95, response("heart-seen", touched, [(0, 0), (0.35, 1), (1, 1)])),
            "colour": row([1.3, 0.5, 0.2]),
        },
    }
    return document(
        "Paper crane unravels",
        "A crane of four hundred scraps of paper beats its wings; a sweep passes over it, and they come off, each of "
        "its own pattern.",
        {"last_frame": 130, "seed": 31},
        {"position": [0.0, 1.35, 4.2], "target": [0.1, 1.15, 0.0], "field_of_view": 0.6},
        props,
        [paper, heart],
    )


def bell_ring() -> dict[str, Any]:
    strokes = [
        {"kind": "pull", "radius": 0.9, "strength": 0.9, "points": [[1.0, 0.0, 0.0], [0.9, 0.1, 0.45]]},
        {"kind": "pull", "radius": 0.7, "strength": 0.6, "points": [[-0.9, 0.2, 0.4]]},
        {"kind": "smooth", "radius": 0.6, "strength": 0.6, "points": [[1.4, 0.05, 0.2]]},
    ]
    props = [
        prop(
            "bell",
            "Bell",
            "shape",
            shape="funnel",
            profile=[[0.34, 0.0], [0.3, 0.05], [0.25, 0.2], [0.22, 0.38], [0.14, 0.5], [0.0, 0.54]],
            position=row([0.0, 0.85, 0.0]),
            rotation=written("bell-swing", "vec3(0, 0, 0.22 * exp(-0.5 * clip_time) * sin(5.2 * clip_time))"),
            tint=[0.55, 0.36, 0.14],
        ),
        prop(
            "guide",
            "Ring guide",
            "shape",
            shape="sphere",
            radius=1.0,
            position=row([0.0, 0.95, 0.0]),
            scale=row([1.0, 0.45, 1.0]),
            shown="hidden",
            in_pictures=False,
            tint=[0.16, 0.34, 0.34],
            strokes=strokes,
        ),
    ]
    ring = {
        "uid": "ring",
        "name": "Ring",
        "draws": [{"uid": "ring-spark", "name": "spark", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "bursts": [
                {"uid": f"ring-{frame}", "frame": frame, "count": count}
                for frame, count in ((6, 900), (36, 600), (66, 380))
            ],
            "place": {"kind": "prop", "prop": "bell", "on": "surface"},
            "lifespan": row(
                2.2, response("ring-last", "draw:ring-spark", STRAIGHT, output=(0.6, 1.2), read="once", shape="linear")
            ),
            "launch": {
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(0.0),
                "speed": row(0.0),
                "aim": "guided",
                "guide": "guide",
                "origin": row([0.0, 1.0, 0.0]),
                "multiplier": row(2.3),
                "offset": row(-0.35),
            },
        },
        "forces": [
            {"kind": "drag", "uid": "ring-air", "rate": row(1.1)},
            {"kind": "gravity", "uid": "ring-fall", "strength": row(0.12)},
        ],
        "look": {
            "blend": "add",
            "size": row(0.05, response("ring-size", "life", [(0, 0.5), (0.15, 1), (1, 0)])),
            "opacity": row(0.8, response("ring-fade", "life", [(0, 0), (0.06, 1), (0.6, 0.7), (1, 0)])),
            "colour": row(
                [1.0, 0.8, 0.4],
                gradient(
                    "ring-colour",
                    "speed",
                    [(0, (0.2, 0.35, 0.4)), (0.4, (0.9, 0.6, 0.25)), (1, (1.9, 1.3, 0.6))],
                    input=(0, 2.4),
                ),
            ),
        },
    }
    return document(
        "Bell ring",
        "The ferry's bell is struck three times: each stroke flies out as far as the guide reaches, most where it "
        "bulges. In the middle all of it is slow, the bell too.",
        {"last_frame": 120, "seed": 13},
        {"position": [0.0, 1.9, 4.6], "target": [0.2, 0.95, 0.0], "field_of_view": 0.62},
        props,
        [ring],
        retiming={
            "keys": [
                {"at": at, "shows": shows, "shape": "smooth"}
                for at, shows in ((0, 0), (1.3, 1.3), (3.1, 1.9), (4.8, 3.6))
            ]
        },
    )


def burning_name() -> dict[str, Any]:
    burning = of_mask("fronts")
    grown = {
        "size": written("left-size", "vec3(0.75 * clip_time, 3, 3)"),
        "falloff": row(0.09),
        "edge": row(0.09),
        "noise_scale": row(0.14),
        "noise_drift": row(0.1),
    }
    right = {**grown, "size": written("right-size", "vec3(0.75 * max(clip_time - 0.5, 0), 3, 3)")}
    props = [
        prop(
            "name",
            "Name",
            "text",
            text="Hotaru Maru",
            height=0.42,
            depth=0.07,
            position=row([0.0, 0.85, 0.0]),
            tint=[0.5, 0.4, 0.24],
            shown="hidden",
            in_pictures=False,
        ),
        mask("left", "Left front", "box", position=row([-1.75, 1.0, 0.0]), **grown),
        mask("right", "Right front", "box", position=row([1.75, 1.0, 0.0]), **right),
        mask("fronts", "Both fronts", "union", masks=["left", "right"]),
    ]
    burnt, since = of_mask("fronts", "latched"), of_mask("fronts", "since")
    # the name itself, in cells with splinters: charred where a front has passed, then let go
    wood = {
        "uid": "wood",
        "name": "Wood",
        "draws": [{"uid": "wood-luck", "name": "luck", "kind": "uniform"}],
        "births": {
            "rate": row(0.0),
            "place": {"kind": "parts", "prop": "name", "into": "cells", "count": 420, "splinters": 0.3, "seed": 4},
            "lifespan": row(30.0),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "motion": {
            "grip": row(
                1000.0, response("wood-let-go", since, [(0, 1), (0.5, 0), (1, 0)], input=(0, 0.9), shape="hold")
            ),
            "turning": {
                "torque": row(
                    [4.0, 2.0, 3.0],
                    response("wood-free", burnt, STRAIGHT, shape="linear"),
                    response("wood-each", "draw:wood-luck", STRAIGHT, output=(-1.5, 1.5), read="once", shape="linear"),
                ),
                "damping": row(0.8),
            },
        },
        "forces": [
            {"kind": "gravity", "uid": "wood-falls", "strength": row(0.13)},
            {"kind": "drag", "uid": "wood-air", "rate": row(0.6)},
            {
                "kind": "curl_noise",
                "uid": "wood-swirl",
                "octaves": 1,
                "scale": row(0.4),
                "evolution": row(0.2),
                "strength": row(0.35),
            },
        ],
        "look": {
            "sprite": "piece",
            "form": "part",
            "blend": "over",
            "both": False,
            "opacity": row(1.0),
            "size": row(1.0, response("wood-gone", since, [(0, 1), (0.45, 0.9), (1, 0)], input=(0, 2.2))),
            "colour": row(
                [1.0, 1.0, 1.0],
                gradient(
                    "wood-burns",
                    since,
                    [
                        (0, (1.0, 1.0, 1.0)),
                        (0.05, (7.0, 2.6, 0.7)),
                        (0.3, (3.2, 0.7, 0.12)),
                        (0.65, (0.16, 0.12, 0.1)),
                        (1, (0.1, 0.09, 0.09)),
                    ],
                    input=(0, 1.6),
                ),
            ),
        },
    }
    embers = {
        "uid": "sparks",
        "name": "Sparks",
        "draws": [{"uid": "sparks-flicker", "name": "flicker", "kind": "uniform"}],
        "births": {
            "rate": row(6000),
            "place": {"kind": "prop", "prop": "name", "on": "surface"},
            # births where the fronts are passing: neither before them nor behind
            "keep": row(1.0, response("sparks-rim", burning, [(0, 0), (0.2, 1), (0.75, 1), (1, 0)], read="once")),
            "lifespan": row(
                1.3,
                response(
                    "sparks-last", "draw:sparks-flicker", STRAIGHT, output=(0.4, 1.4), read="once", shape="linear"
                ),
            ),
            "launch": {
                "direction": row([0.0, 1.0, 0.3]),
                "cone": row(math.radians(35)),
                "speed": row(0.25),
                "aim": "normal",
            },
        },
        "forces": [
            {"kind": "buoyancy", "uid": "sparks-lift", "strength": row(1.1)},
            {"kind": "drag", "uid": "sparks-air", "rate": row(1.2)},
            {
                "kind": "curl_noise",
                "uid": "sparks-swirl",
                "octaves": 2,
                "scale": row(0.35),
                "evolution": row(0.3),
                "strength": row(1.8),
            },
        ],
        "look": {
            "blend": "add",
            "size": row(0.03, response("sparks-size", "life", [(0, 0.6), (0.1, 1), (1, 0)])),
            "opacity": row(0.9, response("sparks-fade", "life", [(0, 1), (0.6, 0.8), (1, 0)])),
            "colour": row(
                [1.0, 0.6, 0.2],
                gradient(
                    "sparks-colour", "life", [(0, (2.6, 1.7, 0.7)), (0.3, (2.0, 0.7, 0.14)), (1, (0.3, 0.04, 0.02))]
                ),
            ),
        },
    }
    smoke = {
        "uid": "trails",
        "name": "Trails",
        "births": {
            "rate": row(14.0),
            "limit": 8,
            "place": {"kind": "particles", "emitter": "sparks", "inherit_size": row(0.0), "inherit_colour": row(0.35)},
            "lifespan": row(0.7),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.6), "speed": row(0.03), "inherit": row(0.15)},
        },
        "look": {
            "blend": "add",
            "size": row(0.016, response("trails-size", "life", [(0, 1), (1, 0)])),
            "opacity": row(0.35, response("trails-fade", "life", [(0, 1), (1, 0)])),
            "colour": row([0.7, 0.22, 0.06]),
        },
    }
    return document(
        "Name burning through",
        "Two fronts eat the ferry's name from both ends: its wood chars, breaks into cells and splinters, and falls. "
        "Write another name in the props: it burns as well.",
        {"last_frame": 130, "seed": 17},
        {"position": [0.0, 1.05, 4.4], "target": [0.0, 1.05, 0.0], "field_of_view": 0.62},
        props,
        [wood, embers, smoke],
    )


ALL = {
    "reed-pollen": reed_pollen,
    "frost-on-the-cabin-window": frost,
    "paper-crane-unravels": paper_crane,
    "bell-ring": bell_ring,
    "name-burning-through": burning_name,
}
