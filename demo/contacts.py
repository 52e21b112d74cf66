"""Four effects of the Lantern Ferry about what particles meet, and what happens then: bubbles, spray of the wake, ink
on the deck, beads in the gutter."""

from __future__ import annotations

import math
from typing import Any

from demo.motion import by_dial, dial, document
from demo.parts import STRAIGHT, finish, gradient, prop, response, row, written

DOWN = {"kind": "gravity", "strength": row(9.81)}


def soap_bubbles() -> dict[str, Any]:
    """Bubbles drift down onto the deck; who touches it pops, and bursts into droplets."""
    deck = prop(
        "deck",
        "Deck",
        "shape",
        shape="box",
        width=3.4,
        height=0.1,
        depth=1.8,
        position=row([0.0, -0.05, 0.0]),
        tint=[0.16, 0.12, 0.08],
    )
    bubbles = {
        "uid": "bubbles",
        "name": "Bubbles",
        "draws": [{"uid": "bubble-size", "name": "blown", "kind": "uniform"}],
        "births": {
            "rate": row(9.0),
            "place": {"kind": "disc", "centre": row([-0.9, 1.25, 0.0]), "radius": row(0.12), "on": "inside"},
            "lifespan": row(14.0),
            "launch": {"direction": row([1.0, 0.35, 0.0]), "cone": row(math.radians(30)), "speed": row(0.9)},
        },
        "forces": [
            {"kind": "wind", "uid": "bubble-air", "velocity": row([0.16, -0.22, 0.0]), "coupling": row(1.3)},
            {
                "kind": "curl_noise",
                "uid": "bubble-sway",
                "octaves": 1,
                "scale": row(0.7),
                "evolution": row(0.2),
                "strength": row(0.5),
            },
        ],
        "contacts": [{"kind": "prop", "uid": "bubble-deck", "prop": "deck", "bounce": row(0.2), "friction": row(0.1)}],
        "cues": [{"kind": "touch", "uid": "pop", "name": "pop", "ends": True, "bears": row(9.0)}],
        "look": {
            "sprite": "picture",
            "shelf": "disc",
            "blend": "between",
            "added": row(0.75),
            "size": row(
                0.16,
                response("bubble-blown", "draw:bubble-size", STRAIGHT, output=(0.45, 1.3), read="once", shape="linear"),
                response("bubble-grows", "age", [(0, 0.2), (1, 1)], input=(0, 0.6)),
            ),
            "opacity": row(0.5),
            "colour": row(
                [0.5, 0.75, 0.9],
                gradient(
                    "bubble-hue",
                    "draw:bubble-size",
                    [(0, (0.4, 0.8, 0.9)), (0.5, (0.85, 0.6, 0.85)), (1, (0.9, 0.85, 0.5))],
                    read="once",
                ),
            ),
        },
    }
    drops = {
        "uid": "droplets",
        "name": "Droplets",
        "draws": [],
        "births": {
            "rate": row(0.0),
            "place": {"kind": "particles", "emitter": "bubbles", "cue": "pop"},
            "lifespan": row(0.5),
            "launch": {"aim": "normal", "cone": row(math.radians(70)), "speed": row(1.1), "inherit": row(0.0)},
        },
        "forces": [{**DOWN, "uid": "droplet-falls", "strength": row(5.0)}],
        "contacts": [{"kind": "prop", "uid": "droplet-deck", "prop": "deck", "bounce": row(0.2), "friction": row(0.6)}],
        "look": {
            "blend": "add",
            "size": row(0.022, response("droplet-less", "life", [(0, 1), (1, 0.2)])),
            "opacity": row(0.9, response("droplet-fades", "life", [(0, 1), (1, 0)])),
            "colour": row([0.8, 0.9, 1.0]),
        },
    }
    return document(
        "Soap bubbles",
        "Bubbles drift down onto the deck, touch it and pop: a cue ends them and bears droplets where they touched.",
        {"last_frame": 200, "seed": 5, "run_up": 100},
        {"position": [0.0, 0.75, 3.6], "target": [0.0, 0.5, 0.0], "field_of_view": 0.62},
        [deck],
        [bubbles, drops],
    )


def wake_spray() -> dict[str, Any]:
    """Drops thrown up by the bow fall back onto the water, burst into smaller ones, and leave a ripple each."""
    water = {"kind": "plane", "bounce": row(0.15), "friction": row(0.3)}
    drops = {
        "uid": "spray",
        "name": "Spray",
        "draws": [{"uid": "spray-size", "name": "large", "kind": "uniform"}],
        "births": {
            "rate": row(160.0),
            "place": {"kind": "box", "centre": row([-0.6, 0.08, 0.0]), "size": row([0.2, 0.05, 1.0])},
            "lifespan": row(6.0),
            "launch": {
                "direction": row([-0.45, 1.0, 0.0]),
                "cone": row(math.radians(26)),
                "speed": row(2.6, response("spray-haste", "draw:spray-size", STRAIGHT, output=(1.2, 0.7), read="once")),
            },
        },
        "forces": [
            {**DOWN, "uid": "spray-falls"},
            {"kind": "wind", "uid": "spray-air", "velocity": row([0.9, 0.0, 0.0]), "coupling": row(0.5)},
        ],
        "contacts": [{**water, "uid": "spray-water"}],
        "cues": [
            {"kind": "touch", "uid": "burst", "name": "burst", "ends": True, "bears": row(4.0)},
            {"kind": "touch", "uid": "rings", "name": "ring", "bears": row(1.0)},
        ],
        "look": {
            "blend": "between",
            "added": row(0.4),
            "size": row(0.03, response("spray-large", "draw:spray-size", STRAIGHT, output=(0.5, 1.4), read="once")),
            "opacity": row(0.85),
            "colour": row([0.62, 0.76, 0.8]),
        },
    }
    small = {
        "uid": "small",
        "name": "Burst drops",
        "draws": [],
        "births": {
            "rate": row(0.0),
            "place": {"kind": "particles", "emitter": "spray", "cue": "burst", "inherit_size": row(0.4)},
            "lifespan": row(3.0),
            "launch": {"aim": "normal", "cone": row(math.radians(55)), "speed": row(0.9)},
        },
        "forces": [{**DOWN, "uid": "small-falls"}],
        "contacts": [{**water, "uid": "small-water"}],
        "cues": [{"kind": "touch", "uid": "gone", "name": "gone", "ends": True}],
        "look": {"blend": "add", "size": row(0.02), "opacity": row(0.7), "colour": row([0.6, 0.75, 0.8])},
    }
    rings = {
        "uid": "ripples",
        "name": "Ripples",
        "draws": [],
        "births": {
            "rate": row(0.0),
            "place": {"kind": "particles", "emitter": "spray", "cue": "rings"},
            "lifespan": row(1.2),
            "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "forces": [],
        "motion": {"turning": {"start": row([-math.pi / 2, 0.0, 0.0])}},
        "look": {
            "sprite": "picture",
            "shelf": "ripple",
            "faces": "space",
            "blend": "add",
            "size": row(0.5, response("ripple-wide", "life", [(0, 0.05), (0.5, 0.7), (1, 1)])),
            "opacity": row(0.5, response("ripple-fades", "life", [(0, 1), (1, 0)])),
            "colour": row([0.35, 0.5, 0.52]),
        },
    }
    return document(
        "Wake spray",
        "Drops that the bow throws up fall back, burst into smaller ones where they meet the water, and leave a "
        "ripple each.",
        {"last_frame": 160, "seed": 9, "run_up": 50},
        {"position": [-0.75, 0.62, 2.3], "target": [-0.72, 0.26, 0.0], "field_of_view": 0.62},
        [],
        [drops, small, rings],
    )


def ink_on_the_deck() -> dict[str, Any]:
    """A swinging ink pot draws a closed figure: its two swings are in the ratio 5 : 4 (common practice, no source)."""
    deck = prop(
        "deck",
        "Deck",
        "shape",
        shape="box",
        width=2.6,
        height=0.06,
        depth=2.2,
        position=row([0.0, -0.03, 0.0]),
        tint=[0.5, 0.4, 0.28],
    )
    lamp = prop(
        "lamp",
        "Lamp over the pot",
        "light",
        shines="spot",
        follow={"prop": "pot", "at": "place", "turns": False},
        position=row([0.25, 1.1, 0.35]),
        rotation=row([-1.25, 0.6, 0.0]),
        strength=row(2.2),
        reach=row(4.0),
        cone=row(math.radians(75)),
        edge=row(0.6),
        blur=row(0.04),
        light_colour=row([1.0, 0.78, 0.52]),
    )
    evening = prop(
        "evening", "Evening", "light", shines="around", strength=row(0.14), light_colour=row([0.55, 0.7, 1.0])
    )
    pot = prop(
        "pot",
        "Ink pot",
        "shape",
        shape="sphere",
        radius=0.05,
        tint=[0.06, 0.06, 0.1],
        position=written(
            "pot-swings",
            "vec3(0.9 * sin(clip_time * 5 * 0.7854), 0.55 + 0.12 * (sin(clip_time * 5 * 0.7854) ** 2 + sin(clip_time "
            "* 4 * 0.7854 + 0.6) ** 2), 0.75 * sin(clip_time * 4 * 0.7854 + 0.6))",
        ),
    )
    ink = {
        "uid": "ink",
        "name": "Ink",
        "draws": [{"uid": "ink-size", "name": "thick", "kind": "uniform"}],
        "births": {
            "rate": row(220.0),
            "place": {
                "kind": "point",
                "centre": {
                    "base": {"source": {"kind": "prop", "prop": "pot", "part": "whole"}, "read": "once"},
                    "responses": [],
                },
            },
            "lifespan": row(100.0),
            "launch": {"direction": row([0.0, -1.0, 0.0]), "cone": row(math.radians(4)), "speed": row(0.4)},
        },
        "forces": [{**DOWN, "uid": "ink-falls"}],
        "contacts": [
            {
                "kind": "prop",
                "uid": "ink-deck",
                "prop": "deck",
                "bounce": row(0.0),
                "friction": row(1000.0),
                "stick": row(1.0),
                "thickness": row(0.15),
            }
        ],
        "look": {
            "blend": "over",
            "opacity": row(0.95),
            "colour": row(
                [0.02, 0.03, 0.08],
                gradient(
                    "ink-dries",
                    {"kind": "touch", "part": "since_last"},
                    [(0, (0.16, 0.4, 1.6)), (0.35, (0.05, 0.11, 0.5)), (1, (0.012, 0.018, 0.06))],
                    input=(0, 2.5),
                ),
            ),
            "size": row(
                0.03,
                response("ink-thick", "draw:ink-size", STRAIGHT, output=(0.6, 1.2), read="once"),
                response("ink-spreads", {"kind": "touch", "part": "since_last"}, [(0, 1), (1, 1.5)], input=(0, 0.4)),
            ),
        },
    }
    return document(
        "Ink on the deck",
        "A swinging ink pot draws a closed figure on the deck: drops stick where they land. The swings are as 5 to 4; "
        "further out it hangs higher.",
        {"last_frame": 200, "seed": 3},
        {"position": [0.0, 2.3, 2.6], "target": [0.0, 0.05, 0.15], "field_of_view": 0.62},
        [deck, pot, lamp, evening],
        [ink],
        finish=[
            finish("ink-glow", "glow", strength=0.9, width=5.0, tint=[0.6, 0.8, 1.0], emitters=["ink"]),
            finish("ink-corners", "vignette", amount=0.45),
        ],
    )


def beads_in_the_gutter() -> dict[str, Any]:
    """Beads run down a gutter and out over its end; how they bounce and rub are dials."""
    gutter = prop(
        "gutter",
        "Gutter",
        "shape",
        shape="cylinder",
        radius=0.28,
        height=2.6,
        position=row([-0.2, 0.62, 0.0]),
        rotation=row([0.0, 0.0, math.radians(76)]),
        shown="ghost",
        tint=[0.3, 0.34, 0.36],
    )
    floor = prop(
        "floor",
        "Deck",
        "shape",
        shape="box",
        width=5.0,
        height=0.06,
        depth=2.2,
        position=row([0.4, -0.23, 0.0]),
        tint=[0.2, 0.15, 0.1],
    )
    beads = {
        "uid": "beads",
        "name": "Beads",
        "draws": [{"uid": "bead-hue", "name": "hue", "kind": "uniform"}],
        "births": {
            "rate": row(26.0),
            "place": {"kind": "disc", "centre": row([-1.35, 0.95, 0.0]), "radius": row(0.08), "on": "inside"},
            "lifespan": row(9.0),
            "launch": {"direction": row([1.0, -0.2, 0.0]), "cone": row(math.radians(40)), "speed": row(0.6)},
        },
        "forces": [{**DOWN, "uid": "bead-falls"}],
        "contacts": [
            {
                "kind": "cylinder",
                "uid": "bead-gutter",
                "space": "gutter",
                "side": "inside",
                "centre": row([0.0, 1.3, 0.0]),
                "radius": row(0.28),
                "height": row(200.0),
                "bounce": row(1.0, by_dial("bead-bounce", "bounce", 0, 1)),
                "friction": row(1.0, by_dial("bead-rub", "rub", 0, 1)),
                "region": row(
                    0.0,
                    response(
                        "bead-within",
                        {"kind": "position", "part": "x"},
                        [(0, 1), (0.999, 1), (1, 0)],
                        input=(-10, 1.02),
                        shape="hold",
                        operation="set",
                    ),
                ),
            },
            {
                "kind": "plane",
                "uid": "bead-floor",
                "point": row([0.0, -0.2, 0.0]),
                "bounce": row(1.0, by_dial("bead-bounce-2", "bounce", 0, 1)),
                "friction": row(1.0, by_dial("bead-rub-2", "rub", 0, 1)),
                "roughness": row(math.radians(6)),
            },
            {
                "kind": "others",
                "uid": "bead-others",
                "rounds": 8,
                "bounce": row(1.0, by_dial("bead-bounce-3", "bounce", 0, 1)),
                "friction": row(1.0, by_dial("bead-rub-3", "rub", 0, 1)),
            },
        ],
        "passing": {"last": row(0.06)},
        "look": {
            "sprite": "piece",
            "form": "ball",
            "drawn_with": "plain",
            "gloss": 0.8,
            "both": False,
            "faces": "world",
            "size": row(0.1),
            "opacity": row(1.0),
            "colour": row(
                [0.8, 0.4, 0.2],
                gradient(
                    "bead-hues",
                    "draw:bead-hue",
                    [(0, (0.75, 0.16, 0.08)), (0.5, (0.9, 0.6, 0.15)), (1, (0.1, 0.4, 0.45))],
                    read="once",
                ),
            ),
        },
    }
    return document(
        "Beads in the gutter",
        "Beads run down a gutter, out over its end and across the deck; their bounce and friction are dials.",
        {"last_frame": 180, "seed": 8, "run_up": 60, "substeps": 2},
        {"position": [0.75, 1.15, 4.7], "target": [0.5, 0.3, 0.0], "field_of_view": 0.62},
        [gutter, floor],
        [beads],
        dials=[
            dial("bounce", "Bounce", 0.55, 0, 1, note="How much of their speed comes back."),
            dial("rub", "Friction", 0.15, 0, 1, note="What holds them back."),
        ],
    )


ALL = {
    "soap-bubbles": soap_bubbles,
    "wake-spray": wake_spray,
    "ink-on-the-deck": ink_on_the_deck,
    "beads-in-the-gutter": beads_in_the_gutter,
}
