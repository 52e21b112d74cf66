"""Write the demo's effects into demo/effects: `python -m demo.lantern_ferry`."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

from demo.births_and_masks import ALL as BIRTHS_AND_MASKS
from demo.compass_rose import compass_rose
from demo.contacts import ALL as CONTACTS
from demo.looks import ALL as LOOKS
from demo.motion import ALL as MOTION
from demo.parts import STRAIGHT, file, finish, flutter, gradient, prop, ratio, response, row, trailing, written
from demo.shaping import ALL as SHAPING
from demo.solids import ALL as SOLIDS
from demo.wheelhouse import wheelhouse_window
from kagero.core.document import Effect, read_effect, write_effect

EFFECTS = Path(__file__).parent / "effects"


def lantern_embers() -> dict[str, Any]:
    flicker = "draw:embers-flicker"
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Lantern embers",
        "note": "Embers over the ferry's stern lantern: they flare just after birth, rise, drift and cool.",
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": 120, "seed": 7, "background": "ink"},
        "camera": {"position": [0.0, 1.35, 4.6], "target": [0.0, 1.12, 0.0], "field_of_view": 0.62},
        "props": [
            prop(
                "lantern",
                "Lantern",
                "mesh",
                file=file("lantern.glb"),
                position=row([0.0, 0.02, 0.0]),
                scale=row([0.8, 0.8, 0.8]),
                rotation=written("lantern-sway", "vec3(0.04 * sin(clip_time * 1.7), 0, 0.05 * sin(clip_time * 1.3))"),
                tint=[0.9, 0.75, 0.6],
            ),
            prop(
                "rope",
                "Rope",
                "path",
                points=[
                    [round(-2.4 + 0.4 * k, 3), round(1.95 * math.cosh((k - 6) / 7.2) - 1.15, 4), -0.9]
                    for k in range(13)
                ],
            ),
            *(
                prop(
                    f"plank-{k}",
                    f"Plank {k + 1}",
                    "shape",
                    shape="box",
                    width=4.4,
                    height=0.06,
                    depth=0.285,
                    group="stern deck",
                    position=row([(-0.3, 0.2, -0.1, 0.35, -0.2, 0.1)[k], -0.05, 0.75 - 0.3 * k]),
                    tint=tint,
                    roughness=row(0.62),
                    rough_by="grain",
                )
                for k, tint in enumerate(
                    [
                        [0.34, 0.2, 0.11],
                        [0.28, 0.16, 0.09],
                        [0.38, 0.23, 0.13],
                        [0.31, 0.18, 0.1],
                        [0.36, 0.2, 0.1],
                        [0.29, 0.17, 0.1],
                    ]
                )
            ),
            prop("grain", "Wood grain", "made", pattern="noise", shown="hidden", in_pictures=False),
            prop(
                "flame",
                "Flame",
                "light",
                shines="point",
                shadows=False,
                position=row([0.0, 0.75, 0.0]),
                follow={"prop": "lantern"},
                shown="hidden",
                strength=written("flame-flicker", "1.1 + 0.25 * sin(clip_time * 9) + 0.15 * sin(clip_time * 23)"),
                light_colour=row([1.0, 0.55, 0.22]),
                reach=row(2.4),
                blur=row(0.05),
            ),
            prop(
                "dusk",
                "Dusk",
                "light",
                shines="around",
                strength=row(0.06),
                light_colour=row([0.5, 0.7, 1.0]),
                shown="hidden",
            ),
        ],
        "emitters": [
            {
                "uid": "embers",
                "name": "Embers",
                "draws": [
                    {"uid": "embers-flicker", "name": "flicker", "kind": "uniform"},
                    {"uid": "embers-haste", "name": "haste", "kind": "uniform"},
                ],
                "births": {
                    "rate": row(
                        210,
                        response(
                            "embers-rate-time", "clip_time", [(0, 0), (0.3, 1), (1, 1)], input=(0, 2), output=(0.25, 1)
                        ),
                    ),
                    "bursts": [{"uid": "embers-crackle", "frame": 60, "count": 45}],
                    "place": {"kind": "disc", "centre": row([0.0, 0.3, 0.0]), "radius": row(0.26), "on": "inside"},
                    "lifespan": row(
                        2.6,
                        response(
                            "embers-lifespan-haste",
                            "draw:embers-haste",
                            STRAIGHT,
                            output=(0.7, 1.2),
                            read="once",
                            shape="linear",
                        ),
                    ),
                    "launch": {
                        "direction": row([0.0, 1.0, 0.0]),
                        "cone": row(math.radians(24)),
                        "speed": row(
                            0.35,
                            response(
                                "embers-speed-flicker",
                                flicker,
                                STRAIGHT,
                                output=(0.4, 1.6),
                                read="once",
                                shape="linear",
                            ),
                        ),
                    },
                },
                "forces": [
                    {
                        "kind": "buoyancy",
                        "uid": "embers-lift",
                        "strength": row(0.82, response("embers-lift-life", "life", [(0, 1), (0.35, 0.85), (1, 0.1)])),
                    },
                    {"kind": "drag", "uid": "embers-air", "rate": row(0.8)},
                    {
                        "kind": "curl_noise",
                        "uid": "embers-swirl",
                        "octaves": 1,
                        "scale": row(0.55),
                        "evolution": row(0.25),
                        "strength": row(
                            1.5, response("embers-swirl-life", "life", [(0, 0), (0.5, 1), (1, 1)], output=(0.1, 1))
                        ),
                    },
                ],
                "look": {
                    "blend": "add",
                    "size": row(
                        0.085,
                        response("embers-size-life", "life", [(0, 0.05), (0.14, 1), (0.4, 0.8), (1, 0)]),
                        response(
                            "embers-size-flicker", flicker, STRAIGHT, output=(0.35, 1.25), read="once", shape="linear"
                        ),
                    ),
                    "opacity": row(
                        0.85, response("embers-opacity-life", "life", [(0, 0), (0.08, 1), (0.55, 0.9), (1, 0)])
                    ),
                    "colour": row(
                        [1.0, 0.62, 0.22],
                        gradient(
                            "embers-colour-life",
                            "life",
                            [
                                (0, (2.4, 1.5, 0.62)),
                                (0.3, (1.9, 0.72, 0.16)),
                                (0.65, (0.85, 0.17, 0.05)),
                                (1, (0.18, 0.03, 0.02)),
                            ],
                        ),
                    ),
                },
                # they light the lantern's wood, the brightest of them
                "light": {
                    "strength": row(0.5, response("embers-light-life", "life", [(0, 0), (0.1, 1), (0.5, 0.5), (1, 0)])),
                    "reach": row(0.7),
                },
                "also": [trailing("embers-trail", seconds=0.22, wide=0.42, opacity=0.5, detail=28)],
            },
            {
                "uid": "ash",
                "name": "Ash",
                "draws": [
                    {"uid": "ash-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
                    {"uid": "ash-turn", "name": "turn", "kind": "sign", "chance": row(0.5)},
                    {
                        "uid": "ash-weight",
                        "name": "weight",
                        "kind": "normal",
                        "mean": row(0.05),
                        "deviation": row(0.012),
                        "absolute": False,
                        "clamped": True,
                        "lowest": row(0.02),
                        "highest": row(0.09),
                    },
                ],
                "births": {
                    "rate": row(36),
                    "start": 0.6,
                    "place": {"kind": "disc", "centre": row([0.0, 0.75, 0.0]), "radius": row(0.3), "on": "inside"},
                    "lifespan": row(3.4),
                    "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(math.radians(30)), "speed": row(0.2)},
                    "rotation": {"base": {"source": {"kind": "draw", "draw": "ash-lean"}, "read": "once"}},
                },
                "forces": [
                    {
                        "kind": "buoyancy",
                        "uid": "ash-lift",
                        "strength": row(0.5, response("ash-lift-life", "life", [(0, 1), (0.5, 0.3), (1, 0)])),
                    },
                    {"kind": "drag", "uid": "ash-air", "rate": row(1.1)},
                    {
                        "kind": "curl_noise",
                        "uid": "ash-swirl",
                        "octaves": 2,
                        "scale": row(0.5),
                        "evolution": row(0.3),
                        "strength": row(1.2, ratio("ash-swirl-size", "size", 0.05, -1)),
                    },
                ],
                "motion": {
                    "spin": row(
                        1.6,
                        response(
                            "ash-spin-turn",
                            "draw:ash-turn",
                            STRAIGHT,
                            input=(-1, 1),
                            output=(-1, 1),
                            read="once",
                            shape="linear",
                        ),
                    )
                },
                "look": {
                    "sprite": "picture",
                    "shelf": "scrap",
                    "blend": "over",
                    "lit": True,
                    "wide": flutter("ash-flutter", 0.55),
                    "size": {
                        "base": {"source": {"kind": "draw", "draw": "ash-weight"}, "read": "once"},
                        "responses": [],
                    },
                    "opacity": row(0.75, response("ash-opacity-life", "life", [(0, 0), (0.15, 1), (0.6, 0.8), (1, 0)])),
                    "colour": row(
                        [0.16, 0.13, 0.12],
                        gradient(
                            "ash-colour-life",
                            "life",
                            [(0, (0.6, 0.2, 0.07)), (0.25, (0.16, 0.13, 0.12)), (1, (0.1, 0.1, 0.11))],
                        ),
                    ),
                },
            },
        ],
        "finish": [
            finish("embers-shutter", "motion_blur", moments=6),
            finish("embers-glow", "glow", strength=0.28, width=6.0, threshold=0.5, knee=0.4, tint=[1.0, 0.72, 0.5]),
            finish("embers-curve", "tone_curve", white=6.0),
        ],
    }


def petal_rain() -> dict[str, Any]:
    grown = "draw:petals-grown"
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Petal rain",
        "note": "Petals from the trees over the landing. The large and light fall slowly, the small ones fast.",
        "clip": {"frame_rate": [30, 1], "first_frame": 0, "last_frame": 180, "seed": 21, "background": "ink"},
        "camera": {"position": [0.0, 2.0, 8.2], "target": [0.0, 1.9, 0.0], "field_of_view": 0.62},
        "props": [
            prop(
                "hull",
                "Hull",
                "mesh",
                file=file("hull.glb"),
                tint=[1.0, 0.9, 0.8],
                position=written("hull-heave", "vec3(0, -0.35 + 0.05 * sin(clip_time * 1.1), -0.6)"),
                rotation=written("hull-roll", "vec3(0.03 * sin(clip_time * 0.9), 0.35, 0.02 * sin(clip_time * 1.1))"),
            ),
            prop(
                "name",
                "Name",
                "text",
                text="Hotaru Maru",
                height=0.2,
                depth=0.02,
                tint=[0.62, 0.5, 0.3],
                position=row([-0.2, 0.62, 0.99]),
                rotation=row([-0.05, 0.0, 0.0]),
                follow={"prop": "hull"},
            ),
            prop(
                "crane",
                "Crane",
                "mesh",
                file=file("crane.glb"),
                loops=True,
                scale=row([1.5, 1.5, 1.5]),
                tint=[1.0, 1.0, 1.0],
                position=written(
                    "crane-flight",
                    "turn = clip_time * 0.9\nvec3(2.1 * cos(turn), 2.6 + 0.2 * sin(clip_time * 2), 1.3 * sin(turn))",
                ),
                rotation=written("crane-heading", "vec3(0, -clip_time * 0.9, -0.25)"),
            ),
            prop(
                "quay",
                "Quay",
                "camera",
                position=row([3.4, 1.1, 4.6]),
                rotation=row([0.02, 0.62, 0.0]),
                field_of_view=row(0.8),
            ),
        ],
        "emitters": [
            {
                "uid": "petals",
                "name": "Petals",
                "draws": [
                    {"uid": "petals-grown", "name": "grown", "kind": "uniform"},
                    {"uid": "petals-tint", "name": "tint", "kind": "uniform"},
                    {"uid": "petals-lean", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.tau)},
                    {"uid": "petals-turn", "name": "turn", "kind": "spread", "centre": row(0.0), "spread": row(2.2)},
                ],
                "births": {
                    "rate": row(150),
                    "place": {
                        "kind": "box",
                        "centre": row([0.0, 4.3, 0.0]),
                        "size": row([7.0, 0.5, 2.4]),
                        "on": "inside",
                    },
                    "lifespan": row(
                        6.0,
                        response(
                            "petals-lifespan-grown", grown, STRAIGHT, output=(0.75, 1.1), read="once", shape="linear"
                        ),
                    ),
                    "launch": {"direction": row([0.3, -1.0, 0.0]), "cone": row(math.radians(35)), "speed": row(0.25)},
                    "rotation": {"base": {"source": {"kind": "draw", "draw": "petals-lean"}, "read": "once"}},
                },
                "motion": {
                    "spin": {
                        "base": {"source": {"kind": "draw", "draw": "petals-turn"}, "read": "once"},
                        "responses": [],
                    }
                },
                "forces": [
                    {
                        "kind": "gravity",
                        "uid": "petals-weight",
                        "strength": row(
                            1.9,
                            response(
                                "petals-weight-size",
                                "size",
                                STRAIGHT,
                                input=(0.03, 0.16),
                                output=(1.0, 0.25),
                                read="once",
                            ),
                        ),
                    },
                    {"kind": "wind", "uid": "petals-breeze", "velocity": row([0.55, 0.0, 0.05]), "coupling": row(0.9)},
                    {
                        "kind": "curl_noise",
                        "uid": "petals-flutter",
                        "octaves": 2,
                        "scale": row(0.9),
                        "evolution": row(0.3),
                        "strength": row(
                            0.9, response("petals-flutter-speed", "speed", STRAIGHT, input=(0, 1.5), output=(0.3, 1))
                        ),
                    },
                ],
                "look": {
                    "sprite": "picture",
                    "shelf": "petal",
                    "blend": "over",
                    "wide": flutter("petals-flutter", 0.8, 0.18),
                    "size": row(
                        0.16,
                        response(
                            "petals-size-grown", grown, [(0, 0), (0.6, 0.35), (1, 1)], output=(0.25, 1), read="once"
                        ),
                    ),
                    "opacity": row(
                        0.9, response("petals-opacity-life", "life", [(0, 0), (0.08, 1), (0.85, 1), (1, 0)])
                    ),
                    "colour": row(
                        [0.9, 0.5, 0.55],
                        gradient(
                            "petals-colour-tint",
                            "draw:petals-tint",
                            [(0, (0.86, 0.42, 0.47)), (0.6, (0.94, 0.68, 0.68)), (1, (0.98, 0.9, 0.86))],
                            read="once",
                        ),
                        response("petals-shade-height", "height", STRAIGHT, input=(0, 2.5), output=(0.35, 1)),
                    ),
                },
            }
        ],
    }


ALL = {
    "lantern-embers": lantern_embers,
    "petal-rain": petal_rain,
    "compass-rose": compass_rose,
    "wheelhouse-window": wheelhouse_window,
    **BIRTHS_AND_MASKS,
    **MOTION,
    **LOOKS,
    **SOLIDS,
    **CONTACTS,
    **SHAPING,
}


def effects() -> dict[str, Effect]:
    """Return the demo's effects by file name without suffix."""
    return {name: read_effect(make()) for name, make in ALL.items()}


def main() -> None:
    EFFECTS.mkdir(exist_ok=True)
    for name, effect in effects().items():
        (EFFECTS / f"{name}.json").write_text(write_effect(effect), encoding="utf-8")


if __name__ == "__main__":
    main()
