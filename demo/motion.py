"""Six effects of the Lantern Ferry about what makes things go: mayflies, fireflies, mist, the eddy, a lantern that
gathers, the deck in the wind."""

from __future__ import annotations

import math
from typing import Any

from demo.births_and_masks import mask, of_mask
from demo.parts import STRAIGHT, file, finish, flutter, gradient, prop, response, row, trailing, written


def document(
    name: str,
    note: str,
    clip: dict[str, Any],
    camera: dict[str, Any],
    props: list[Any],
    emitters: list[Any],
    **more: Any,
) -> dict[str, Any]:
    for emitter in emitters:
        emitter["births"]["launch"] = {"aim": "direction", **emitter["births"]["launch"]}
        emitter["look"] = {"sprite": "soft_disc", **emitter["look"]}
    return {
        "format": "kagero-effect",
        "schema_version": 8,
        "name": name,
        "note": note,
        "clip": {"frame_rate": [25, 1], "first_frame": 0, **clip},
        "camera": camera,
        "props": props,
        "emitters": emitters,
        **more,
    }


def dial(uid: str, name: str, value: float, low: float, high: float, unit: str = "", note: str = "") -> dict[str, Any]:
    return {
        "uid": uid,
        "name": name,
        "value": value,
        "default": value,
        "low": low,
        "high": high,
        "unit": unit,
        "note": note,
    }


def by_dial(uid: str, of: str, low: float, high: float, *, read: str = "live") -> dict[str, Any]:
    """Return a response that multiplies by a dial's own value, from low to high."""
    return response(uid, f"dial:{of}", STRAIGHT, input=(low, high), output=(low, high), shape="linear", read=read)


def mayfly_column() -> dict[str, Any]:
    lamp = prop(
        "lamp",
        "Lamp",
        "mesh",
        file=file("lantern.glb"),
        position=row([0.0, 1.5, 0.0]),
        scale=row([1.1, 1.1, 1.1]),
        tint=[1.2, 0.9, 0.6],
    )
    dusk = prop("dusk", "River at dusk", "picture", files=[file("river-dusk.png")], shown="hidden", in_pictures=False)
    flies = {
        "uid": "flies",
        "name": "Mayflies",
        "draws": [
            {"uid": "flies-side", "name": "side", "kind": "sign", "chance": row(0.35)},
            {"uid": "flies-size", "name": "grown", "kind": "uniform"},
        ],
        "births": {
            "rate": row(240),
            "place": {"kind": "disc", "centre": row([0.0, 0.05, 0.0]), "radius": row(1.0), "on": "inside"},
            "lifespan": row(
                5.5, response("flies-life", "draw:flies-size", STRAIGHT, output=(0.7, 1.1), read="once", shape="linear")
            ),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(math.radians(50)), "speed": row(0.3)},
        },
        "forces": [
            # which way round each goes is a draw
            {
                "kind": "swirl",
                "uid": "flies-round",
                "by": "speed",
                "coupling": row(2.2),
                "fades": "power",
                "power": row(-0.4),
                "reach": row(0.5),
                "core": row(0.25),
                "strength": row(
                    1.05,
                    response(
                        "flies-which",
                        "draw:flies-side",
                        STRAIGHT,
                        input=(-1, 1),
                        output=(-1, 1),
                        read="once",
                        shape="linear",
                    ),
                ),
                "along": row(0.42),
                "inward": row(0.5),
                "middle": row([0.0, 0.0, 0.0]),
            },
            {
                "kind": "pull",
                "uid": "flies-lamp",
                "to": "place",
                "prop": "lamp",
                "fades": "even",
                "core": row(0.35),
                "strength": row(3.4, response("flies-drawn", "life", [(0, 0), (0.35, 0.12), (1, 1)])),
            },
            {"kind": "drag", "uid": "flies-air", "rate": row(0.7)},
            {
                "kind": "curl_noise",
                "uid": "flies-flutter",
                "octaves": 2,
                "scale": row(0.45),
                "evolution": row(0.5),
                "strength": row(1.5, response("flies-calm", "life", [(0, 1), (0.6, 0.6), (1, 0.1)])),
            },
        ],
        "look": {
            "sprite": "picture",
            "shelf": "glint",
            "blend": "add",
            "size": row(
                0.085,
                response("flies-grown", "draw:flies-size", STRAIGHT, output=(0.5, 1.3), read="once", shape="linear"),
            ),
            "opacity": row(0.9, response("flies-fade", "life", [(0, 0), (0.1, 1), (0.85, 1), (1, 0)])),
            "colour": row(
                [1.0, 0.8, 0.5],
                gradient(
                    "flies-near",
                    {"kind": "surface", "prop": "lamp", "part": "distance"},
                    [(0, (2.6, 1.5, 0.6)), (0.35, (1.2, 0.85, 0.5)), (1, (0.28, 0.34, 0.36))],
                    input=(0, 1.6),
                ),
            ),
        },
        "also": [trailing("flies-way", seconds=0.22, wide=0.3, opacity=0.35, detail=28)],
    }
    return document(
        "Mayfly column",
        "Mayflies wind up round the stern lamp, some one way and some the other, drawn in more the older they get.",
        {"last_frame": 200, "seed": 12, "run_up": 60},
        {"position": [0.0, 1.35, 4.6], "target": [0.0, 1.15, 0.0], "field_of_view": 0.62},
        [lamp, dusk],
        [flies],
        frame={"behind": "plate", "plate": "dusk", "plate_stops": row(-0.4)},
        finish=[
            finish("flies-glow", "glow", strength=0.35, width=5.0, threshold=0.6, knee=0.4),
            finish("flies-corners", "vignette", amount=0.35),
        ],
    )


def fireflies() -> dict[str, Any]:
    rope = prop(
        "rope",
        "Mooring rope",
        "path",
        points=[[-2.2, 1.75, 0.0], [-1.1, 1.12, 0.25], [0.0, 0.92, 0.1], [1.1, 1.15, -0.25], [2.1, 1.7, 0.0]],
        shown="lines",
    )
    post = prop(
        "post",
        "Post",
        "shape",
        shape="cylinder",
        radius=0.1,
        height=1.85,
        position=row([-2.25, 0.0, 0.0]),
        tint=[0.09, 0.07, 0.05],
    )
    other = prop(
        "other",
        "Far post",
        "shape",
        shape="cylinder",
        radius=0.1,
        height=1.8,
        position=row([2.15, 0.0, 0.0]),
        tint=[0.09, 0.07, 0.05],
    )
    flies = {
        "uid": "glow",
        "name": "Fireflies",
        "draws": [
            {"uid": "glow-reach", "name": "reach", "kind": "uniform"},
            {"uid": "glow-turn", "name": "turn", "kind": "uniform", "low": row(-1.0), "high": row(1.0)},
            {"uid": "glow-blink", "name": "blink", "kind": "uniform"},
        ],
        "births": {
            "rate": row(26),
            "place": {"kind": "sphere", "centre": row([-2.2, 1.75, 0.0]), "radius": row(0.12), "on": "inside"},
            "lifespan": row(7.0),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(math.radians(90)), "speed": row(0.05)},
        },
        "rides": [
            {
                "kind": "path",
                "uid": "glow-ride",
                "prop": "rope",
                "edge": "release",
                # low draws go far, high ones stay
                "place": row(
                    1.0,
                    response("glow-way", "life", [(0, 0), (0.15, 0.04), (0.85, 1), (1, 1)]),
                    response("glow-far", "draw:glow-reach", STRAIGHT, output=(1.02, 0.12), read="once", shape="linear"),
                ),
                "radius": row(0.1, response("glow-wide", "life", [(0, 0.2), (0.4, 1), (1, 0.6)])),
                "turning": row(
                    2.4,
                    response(
                        "glow-which",
                        "draw:glow-turn",
                        STRAIGHT,
                        input=(-1, 1),
                        output=(-1, 1),
                        read="once",
                        shape="linear",
                    ),
                ),
                "phase": row(
                    math.tau, response("glow-begin", "draw:glow-blink", STRAIGHT, read="once", shape="linear")
                ),
                "grip": row(
                    1000.0,
                    response("glow-held", "life", [(0, 0.004), (0.1, 0.012), (0.2, 1), (0.9, 0), (1, 0)], shape="hold"),
                ),
            }
        ],
        "forces": [
            {
                "kind": "curl_noise",
                "uid": "glow-wander",
                "octaves": 1,
                "scale": row(0.7),
                "evolution": row(0.3),
                "strength": row(0.35),
            },
            {"kind": "buoyancy", "uid": "glow-up", "strength": row(0.12)},
            {"kind": "drag", "uid": "glow-air", "rate": row(1.2)},
        ],
        "look": {
            "sprite": "picture",
            "shelf": "spark",
            "blend": "add",
            "size": row(
                0.16,
                response("glow-pulse", "age", [(0, 0.45), (0.5, 1), (1, 0.45)], input=(0, 1.1)) | {"beyond": "repeat"},
            ),
            "opacity": row(1.0, response("glow-fade", "life", [(0, 0), (0.08, 1), (0.88, 1), (1, 0)])),
            "colour": row(
                [0.9, 1.3, 0.35],
                gradient("glow-tint", "draw:glow-blink", [(0, (0.5, 1.25, 0.3)), (1, (1.6, 1.2, 0.3))], read="once"),
            ),
        },
        "also": [trailing("glow-way", seconds=0.9, wide=0.16, opacity=0.6)],
    }
    return document(
        "Fireflies along the rope",
        "Fireflies find the mooring rope and go along it, round and round; a few go all the way and are let go at its "
        "end. It loops without a seam.",
        {"last_frame": 220, "seed": 4, "run_up": 180},
        {"position": [0.0, 1.45, 4.4], "target": [0.0, 1.25, 0.0], "field_of_view": 0.66},
        [rope, post, other],
        [flies],
        loop={"first": 0, "last": 220, "way": "matched", "over": 0.5},
    )


def mist() -> dict[str, Any]:
    post = prop(
        "post",
        "Mooring post",
        "shape",
        shape="cylinder",
        radius=0.2,
        height=1.9,
        tint=[0.1, 0.075, 0.055],
        position=row([0.0, 0.0, 0.0]),
    )
    puffs = {
        "uid": "mist",
        "name": "Mist",
        "draws": [
            {"uid": "mist-round", "name": "round", "kind": "uniform"},
            {"uid": "mist-pace", "name": "pace", "kind": "uniform"},
        ],
        "births": {
            "rate": row(150),
            "place": {"kind": "disc", "centre": row([0.0, 0.02, 0.0]), "radius": row(0.9), "on": "inside"},
            "lifespan": row(
                5.0, response("mist-life", "draw:mist-pace", STRAIGHT, output=(0.75, 1.2), read="once", shape="linear")
            ),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "rides": [
            {
                "kind": "surface",
                "uid": "mist-ride",
                "prop": "post",
                "edge": "hold",
                "u": row(1.0, response("mist-where", "draw:mist-round", STRAIGHT, read="once", shape="linear")),
                "v": row(1.0, response("mist-climb", "life", [(0, 0), (0.15, 0.01), (0.8, 0.92), (1, 1)])),
                "travel_u": row(
                    0.18,
                    response("mist-spin", "draw:mist-pace", STRAIGHT, output=(1.5, 0.6), read="once", shape="linear"),
                ),
                # it slides in between two shares of its life
                "out": row(0.75, response("mist-in", "life", [(0, 1), (0.12, 1), (0.42, 0.07), (1, 0.12)])),
                "grip": row(1000.0, response("mist-go", "life", [(0, 1), (0.74, 0), (1, 0)], shape="hold")),
            }
        ],
        "forces": [
            {
                "kind": "pull",
                "uid": "mist-drawn",
                "to": "point",
                "point": row([0.5, 3.4, 0.0]),
                "fades": "even",
                "core": row(0.4),
                "strength": row(0.9),
            },
            {
                "kind": "curl_noise",
                "uid": "mist-drift",
                "octaves": 3,
                "scale": row(0.5),
                "evolution": row(0.25),
                "strength": row(0.9),
            },
            {"kind": "drag", "uid": "mist-air", "rate": row(0.8)},
        ],
        "look": {
            "sprite": "picture",
            "shelf": "puffs",
            "blend": "over",
            "page": row(0.7, response("mist-pages", "life", STRAIGHT, shape="linear")),
            "size": row(0.5, response("mist-size", "life", [(0, 0.5), (0.3, 0.7), (0.75, 0.8), (1, 1.9)])),
            "opacity": row(0.3, response("mist-fade", "life", [(0, 0), (0.15, 1), (0.7, 0.9), (1, 0)])),
            "colour": row(
                [0.5, 0.62, 0.64],
                gradient("mist-tint", "height", [(0, (0.3, 0.42, 0.45)), (1, (0.75, 0.8, 0.76))], input=(0, 2.2)),
            ),
        },
    }
    return document(
        "Mist up the mooring post",
        "Mist slides in to the post, winds up it, is let go near its head and drawn up into the night.",
        {"last_frame": 200, "seed": 9, "run_up": 80},
        {"position": [0.0, 1.3, 4.6], "target": [0.0, 1.2, 0.0], "field_of_view": 0.62},
        [post],
        [puffs],
    )


def eddy() -> dict[str, Any]:
    wake = prop(
        "wake",
        "Wake",
        "shape",
        shape="disc",
        radius=1.0,
        position=written(
            "wake-goes", "vec3(-0.9 + 0.28 * clip_time, 0.02 + 0.02 * sin(2 * clip_time), 0.15 * sin(0.8 * clip_time))"
        ),
        scale=row([1.0, 1.0, 1.0], by_dial("wake-wide", "width", 0.5, 1.6)),
        shown="lines",
        in_pictures=False,
    )
    pier = prop(
        "pier",
        "Pier post",
        "shape",
        shape="cylinder",
        radius=0.12,
        height=1.1,
        position=row([1.35, -0.1, -0.35]),
        tint=[0.09, 0.07, 0.055],
    )
    dials = [
        dial("height", "Height", 1.0, 0.3, 2.0, "m", "How high the spray rises."),
        dial("spin", "Spin", 0.28, 0.0, 0.8, "", "Turns a second of the middling ones."),
        dial("width", "Width", 1.0, 0.5, 1.6, "", "How wide the eddy is."),
        dial("density", "Density", 1.0, 0.2, 2.0, "", "How much spray there is."),
        dial("inward", "Draw-in", 0.6, 0.0, 0.9, "", "How far it slides in to the middle."),
    ]
    spray = {
        "uid": "spray",
        "name": "Spray",
        "draws": [
            {
                "uid": "spray-level",
                "name": "level",
                "kind": "normal",
                "mean": row(0.45),
                "deviation": row(0.2),
                "absolute": False,
                "clamped": True,
                "lowest": row(0.03),
                "highest": row(1.0),
            }
        ],
        "births": {
            "rate": row(620, by_dial("spray-dense", "density", 0.2, 2.0)),
            "place": {"kind": "prop", "prop": "wake", "on": "surface"},
            # only outside an inner radius
            "keep": row(1.0, response("spray-ring", "birth_v", [(0, 0), (0.55, 1), (1, 1)], read="once", shape="hold")),
            "lifespan": row(4.5),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "rides": [
            {
                "kind": "surface",
                "uid": "spray-ride",
                "prop": "wake",
                "edge": "hold",
                "u": {"base": {"source": {"kind": "birth_u"}, "read": "once"}, "responses": []},
                # sliding in between 35 and 65 % of its life
                "v": {
                    "base": {
                        "source": {
                            "kind": "formula",
                            "uid": "spray-slide",
                            "text": "birth_v * (1 - dials.draw_in * smoothstep(0.35, 0.65, life))",
                        },
                        "read": "live",
                    },
                    "responses": [],
                },
                # small ones go faster
                "travel_u": row(
                    1.0,
                    by_dial("spray-spin", "spin", 0.0, 0.8),
                    response(
                        "spray-fast",
                        "draw:spray-level",
                        [(0, 1), (1, 0)],
                        output=(0.5, 2.2),
                        read="once",
                        shape="linear",
                    ),
                ),
                # up to a height of its own in the first 15 % of its life
                "out": row(
                    1.0,
                    by_dial("spray-high", "height", 0.3, 2.0),
                    response("spray-own", "draw:spray-level", STRAIGHT, read="once", shape="linear"),
                    response("spray-rise", "life", [(0, 0), (0.15, 1), (1, 1)]),
                ),
                "grip": row(1000.0, response("spray-free", "life", [(0, 1), (0.5, 0), (1, 0)], shape="hold")),
            }
        ],
        "forces": [
            {
                "kind": "pull",
                "uid": "spray-up",
                "to": "point",
                "point": row([0.2, 5.5, 0.0]),
                "fades": "even",
                "core": row(0.5),
                "strength": row(2.6),
            },
            {
                "kind": "curl_noise",
                "uid": "spray-fray",
                "octaves": 2,
                "scale": row(0.4),
                "evolution": row(0.4),
                "strength": row(0.9),
            },
            {"kind": "drag", "uid": "spray-air", "rate": row(0.9)},
        ],
        "ending": {
            "where": row(
                0.0,
                response(
                    "spray-end", "height", [(0, 0), (0.5, 1), (1, 1)], input=(2.4, 3.0), operation="set", shape="hold"
                ),
            )
        },
        "look": {
            "blend": "add",
            # low ones are smaller
            "size": row(
                0.06,
                response("spray-size", "draw:spray-level", STRAIGHT, output=(0.35, 1.15), read="once", shape="linear"),
                response("spray-swell", "life", [(0, 0.3), (0.2, 1), (1, 0.7)]),
            ),
            "opacity": row(
                0.42,
                response("spray-born", "life", [(0, 0), (0.1, 1), (1, 1)]),
                response("spray-gone", "height", [(0, 1), (1, 0)], input=(1.5, 2.4), shape="smooth"),
            ),
            "colour": row(
                [0.4, 0.7, 0.75],
                gradient(
                    "spray-tint",
                    "draw:spray-level",
                    [(0, (0.1, 0.3, 0.36)), (0.6, (0.3, 0.6, 0.62)), (1, (0.85, 1.0, 0.95))],
                    read="once",
                ),
            ),
        },
    }
    return document(
        "Eddy at the pier",
        "A ring of spray that follows the ferry's wake: it rises, goes round, slides in, is let go and drawn up. "
        "Height, spin, width, density and draw-in are dials.",
        {"last_frame": 200, "seed": 6, "run_up": 40},
        {"position": [0.1, 2.0, 4.4], "target": [0.05, 0.85, 0.0], "field_of_view": 0.66},
        [wake, pier],
        [spray],
        dials=dials,
    )


def lantern_gathers() -> dict[str, Any]:
    lantern = prop(
        "lantern",
        "Lantern",
        "mesh",
        file=file("lantern.glb"),
        position=written("lantern-goes", "vec3(0.12 * sin(clip_time * 1.2), 0.6 + 0.03 * sin(clip_time * 2), 0)"),
        rotation=written("lantern-turns", "vec3(0, 0.5 * clip_time, 0.06 * sin(clip_time * 1.2))"),
        scale=row([3.2, 3.2, 3.2]),
        shown="hidden",
        in_pictures=False,
    )
    drawn = {"kind": "moment", "moment": "gather"}
    scraps = {
        "uid": "scraps",
        "name": "Scraps",
        "draws": [
            {"uid": "scraps-late", "name": "late", "kind": "uniform"},
            {"uid": "scraps-size", "name": "size", "kind": "uniform"},
        ],
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "scraps-all", "frame": 0, "count": 2600}],
            "place": {"kind": "sphere", "centre": row([0.0, 1.1, 0.0]), "radius": row(1.7), "on": "surface"},
            "lifespan": row(30.0),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(math.pi), "speed": row(0.15)},
        },
        "target": {"prop": "lantern", "on": "surface", "order": "shuffled", "within": row(0.04)},
        "forces": [
            # pulled there from the moment on, each a little later than another
            {
                "kind": "spring",
                "uid": "scraps-home",
                "to": "target",
                "damping": row(9.0, response("scraps-slow", drawn, STRAIGHT, input=(0, 1.2), output=(0.1, 1))),
                "strength": row(
                    34.0,
                    response("scraps-drawn", drawn, [(0, 0), (0.5, 0.1), (1, 1)], input=(0, 2.2)),
                    response(
                        "scraps-when", "draw:scraps-late", STRAIGHT, output=(1.4, 0.5), read="once", shape="linear"
                    ),
                ),
            },
            {
                "kind": "swirl",
                "uid": "scraps-round",
                "by": "push",
                "fades": "even",
                "core": row(0.2),
                "along": row(0.0),
                "inward": row(0.3),
                "strength": row(1.3, response("scraps-still", drawn, [(0, 1), (0.6, 0.8), (1, 0)], input=(0, 2.4))),
            },
            {
                "kind": "curl_noise",
                "uid": "scraps-air",
                "octaves": 2,
                "scale": row(0.6),
                "evolution": row(0.3),
                "strength": row(1.4, response("scraps-calm", drawn, [(0, 1), (0.5, 0.8), (1, 0)], input=(0, 2.2))),
            },
            {"kind": "drag", "uid": "scraps-drag", "rate": row(0.6)},
        ],
        "rides": [{"kind": "target", "uid": "scraps-sit", "when": "arrived", "grip": row(1000.0)}],
        "look": {
            "sprite": "picture",
            "shelf": "scrap",
            "blend": "over",
            "wide": flutter("scraps-flutter", 0.7, 0.3),
            "size": row(
                0.055,
                response("scraps-sizes", "draw:scraps-size", STRAIGHT, output=(0.5, 1.2), read="once", shape="linear"),
            ),
            "opacity": row(0.9, response("scraps-in", "age", STRAIGHT, input=(0, 0.6), shape="linear")),
            "colour": row(
                [0.6, 0.4, 0.2],
                gradient(
                    "scraps-glow",
                    {"kind": "target", "part": "distance"},
                    [(0, (1.5, 0.75, 0.22)), (0.12, (0.95, 0.42, 0.12)), (1, (0.16, 0.2, 0.22))],
                    input=(0, 2.0),
                ),
            ),
        },
    }
    flare = {
        "uid": "flare",
        "name": "Flare",
        "draws": [{"uid": "flare-long", "name": "long", "kind": "uniform"}],
        "births": {
            "rate": row(900),
            "after": "flare-up",
            "start": 0.0,
            "duration": 0.9,
            "place": {"kind": "prop", "prop": "lantern", "on": "surface"},
            "lifespan": row(
                1.3, response("flare-life", "draw:flare-long", STRAIGHT, output=(0.4, 1.2), read="once", shape="linear")
            ),
            "launch": {"aim": "normal", "cone": row(0.5), "speed": row(0.7)},
        },
        "forces": [
            {"kind": "drag", "uid": "flare-air", "rate": row(1.6)},
            {"kind": "buoyancy", "uid": "flare-up-it-goes", "strength": row(0.7)},
            {
                "kind": "curl_noise",
                "uid": "flare-curl",
                "octaves": 2,
                "scale": row(0.4),
                "evolution": row(0.4),
                "strength": row(1.1),
            },
        ],
        "look": {
            "blend": "add",
            "size": row(0.06, response("flare-size", "life", [(0, 0.2), (0.2, 1), (1, 0)])),
            "opacity": row(0.8, response("flare-fade", "life", [(0, 0), (0.1, 1), (1, 0)])),
            "colour": row(
                [1.6, 0.8, 0.3],
                gradient("flare-cool", "life", [(0, (2.4, 1.4, 0.6)), (0.5, (1.5, 0.5, 0.12)), (1, (0.3, 0.06, 0.02))]),
            ),
        },
    }
    moments = [
        {"uid": "gather", "name": "Gather", "frame": 30},
        {"uid": "gathered", "name": "Gather ends", "after": "gather", "seconds": 2.8},
        {"uid": "flare-up", "name": "Flare", "after": "gathered", "seconds": 0.5},
    ]
    return document(
        "Lantern gathers",
        "Scraps of paper hang in the air, come together into a lantern that sways, and it flares. Move Gather on the "
        "sequence, and all of it moves.",
        {"last_frame": 190, "seed": 14},
        {"position": [0.0, 1.3, 5.2], "target": [0.0, 1.15, 0.0], "field_of_view": 0.62},
        [lantern],
        [scraps, flare],
        moments=moments,
    )


def deck() -> dict[str, Any]:
    hull = prop(
        "hull",
        "Hull",
        "mesh",
        file=file("hull.glb"),
        tint=[1.2, 1.0, 0.85],
        scale=row([0.62, 0.62, 0.62]),
        position=written("deck-heave", "vec3(0, 0.45 + 0.04 * sin(clip_time * 1.1), 0)"),
        rotation=written("deck-roll", "vec3(0.1 * sin(clip_time * 0.9), 0.5, 0.05 * sin(clip_time * 1.1))"),
    )
    lee = mask(
        "gust",
        "Gust",
        "sphere",
        radius=row(0.9),
        falloff=row(0.7),
        edge=row(0.0),
        position=written("gust-goes", "vec3(-2.4 + 1.1 * clip_time, 0.8, 0.4)"),
    )
    petals = {
        "uid": "scurry",
        "name": "Petals",
        "draws": [
            {"uid": "scurry-weight", "name": "weight", "kind": "uniform"},
            {"uid": "scurry-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
        ],
        "births": {
            "rate": row(240),
            "place": {"kind": "prop", "prop": "hull", "on": "surface"},
            "lifespan": row(
                5.0,
                response("scurry-life", "draw:scurry-weight", STRAIGHT, output=(0.7, 1.2), read="once", shape="linear"),
            ),
            "launch": {"direction": row([1.0, 0.2, 0.0]), "cone": row(0.4), "speed": row(0.1)},
            "rotation": {"base": {"source": {"kind": "draw", "draw": "scurry-lean"}, "read": "once"}},
        },
        # their way is kept in the hull's planks; at the rail they are let go
        "rides": [{"kind": "crawl", "uid": "scurry-crawl", "prop": "hull", "edge": "release", "out": row(0.012)}],
        "forces": [
            {
                "kind": "wind",
                "uid": "scurry-wind",
                "velocity": row([1.1, 0.25, 0.25]),
                "coupling": row(
                    0.5,
                    response("scurry-gust", of_mask("gust"), STRAIGHT, output=(0.25, 3.0)),
                    response(
                        "scurry-light", "draw:scurry-weight", STRAIGHT, output=(1.4, 0.5), read="once", shape="linear"
                    ),
                ),
            },
            {"kind": "gravity", "uid": "scurry-fall", "strength": row(0.3)},
            {"kind": "drag", "uid": "scurry-rub", "rate": row(1.1)},
            {
                "kind": "curl_noise",
                "uid": "scurry-turn",
                "octaves": 2,
                "scale": row(0.5),
                "evolution": row(0.4),
                "strength": row(1.6),
            },
        ],
        "motion": {"spin": row(1.4, response("scurry-spin", "speed", STRAIGHT, input=(0, 1.0)))},
        "look": {
            "sprite": "picture",
            "shelf": "petal",
            "blend": "over",
            "wide": flutter("scurry-flutter", 0.5, 0.3),
            "size": row(
                0.075,
                response(
                    "scurry-size", "draw:scurry-weight", STRAIGHT, output=(0.6, 1.25), read="once", shape="linear"
                ),
                response("scurry-grow", "life", [(0, 0), (0.06, 1), (0.92, 1), (1, 0)]),
            ),
            "opacity": row(0.95),
            "colour": row(
                [0.9, 0.5, 0.5],
                gradient(
                    "scurry-tint",
                    "draw:scurry-weight",
                    [(0, (0.98, 0.78, 0.72)), (0.5, (0.92, 0.52, 0.52)), (1, (0.75, 0.3, 0.34))],
                    read="once",
                ),
            ),
        },
    }
    return document(
        "Deck in the wind",
        "Petals scurry over the ferry's hull as gusts pass, without ever leaving its planks, and are blown off at the "
        "rail.",
        {"last_frame": 180, "seed": 18, "run_up": 80},
        {"position": [0.3, 1.9, 3.9], "target": [0.0, 0.6, 0.0], "field_of_view": 0.62},
        [hull, lee],
        [petals],
    )


ALL = {
    "mayfly-column": mayfly_column,
    "fireflies-along-the-rope": fireflies,
    "mist-up-the-mooring-post": mist,
    "eddy-at-the-pier": eddy,
    "lantern-gathers": lantern_gathers,
    "deck-in-the-wind": deck,
}
