"""Effects with a little of everything, and what a frame is to the byte."""

from __future__ import annotations

from typing import Any

from kagero.core.workflows import Playing
from tests.making import STRAIGHT, emitter, gradient, response, row, with_


def rich(**changes: Any) -> dict[str, Any]:
    """Return an emitter that uses every force, draws, and once- and live-responses from every source."""
    base = emitter(
        "rich",
        births__rate=row(300, response("rate", "clip_time", [(0, 0.2), (0.5, 1), (1, 0.4)], input=(0, 2))),
        births__bursts=[{"uid": "pop", "frame": 12, "count": 30}],
        births__place={
            "kind": "sphere",
            "centre": row([0.0, 1.0, 0.0]),
            "radius": row(0.5, response("radius", "draw:d1", STRAIGHT, read="once")),
        },
        births__lifespan=row(
            0.9, response("lifespan", "height", STRAIGHT, input=(0.5, 1.5), output=(0.6, 1.4), read="once")
        ),
        births__launch__cone=row(0.6),
        births__launch__speed=row(
            1.2, response("speed", "size", STRAIGHT, input=(0, 0.2), output=(0.5, 1.5), read="once")
        ),
        draws=[
            {"uid": "d1", "name": "flicker", "kind": "uniform"},
            {"uid": "d2", "name": "haste", "kind": "uniform"},
            {
                "uid": "d3",
                "name": "weight",
                "kind": "normal",
                "clamped": True,
                "lowest": row(
                    -1.0, response("d3-low", "clip_time", STRAIGHT, input=(0, 2), output=(1, 0.5), read="once")
                ),
            },
        ],
        forces=[
            {
                "kind": "gravity",
                "uid": "g",
                "strength": row(
                    2.0, response("g-size", "size", STRAIGHT, input=(0.02, 0.1), output=(1, 0.2), read="once")
                ),
            },
            {
                "kind": "buoyancy",
                "uid": "b",
                "strength": row(1.0, response("b-life", "life", [(0, 0), (0.5, 1), (1, 0)])),
            },
            {"kind": "wind", "uid": "w", "velocity": row([1.0, 0.0, 0.5]), "coupling": row(0.4)},
            {"kind": "drag", "uid": "k", "rate": row(0.6, response("k-speed", "speed", STRAIGHT, input=(0, 2)))},
            {
                "kind": "curl_noise",
                "uid": "c",
                "octaves": 2,
                "scale": row(0.4),
                "evolution": row(0.3),
                "strength": row(1.0, response("c-height", "height", STRAIGHT, input=(0, 2))),
            },
        ],
        births__mass=row(1.0, response("m-draw", "draw:d3", STRAIGHT, input=(-1, 1), output=(0.5, 2), read="once")),
        motion={
            "spin": row(
                1.0,
                {
                    "kind": "ratio",
                    "uid": "spin-ratio",
                    "source": {"kind": "size"},
                    "read": "live",
                    "reference": 0.05,
                    "power": -1,
                },
            )
        },
        own=[
            {
                "kind": "number",
                "uid": "way",
                "name": "way",
                "memory": True,
                "held": True,
                "highest": row(3.0),
                "start": {"base": {"source": {"kind": "birth_position", "part": "y"}, "read": "once"}},
                "change": row(0.5, response("way-speed", "speed", STRAIGHT, input=(0, 2))),
            },
            {
                "kind": "vector",
                "uid": "home",
                "name": "home",
                "start": {"base": {"source": {"kind": "birth_position", "part": "whole"}, "read": "once"}},
            },
        ],
        look__size=row(
            0.1,
            with_(
                response("s-life", "life", [(0, 0.1), (0.3, 1), (1, 0)]),
                shift=row(
                    0.0, response("s-shift", "draw:d1", STRAIGHT, output=(-0.1, 0.1), read="once", operation="add")
                ),
            ),
            response("s-draw", "draw:d1", STRAIGHT, output=(0.4, 1), read="once"),
        ),
        look__stretch=row(1.0, response("st-own", "own:way", STRAIGHT, input=(0, 3), output=(1, 3))),
        look__opacity=row(
            1.0,
            response("o-speed", "speed", STRAIGHT, input=(0, 3), read="once"),
            response("o-haste", "draw:d2", STRAIGHT, output=(0.8, 1), read="once"),
            {
                **response("o-noise", "life", STRAIGHT, output=(0.7, 1)),
                "source": {"kind": "noise", "uid": "o-field", "scale": 0.4},
                "beyond": "mirror",
            },
        ),
        look__colour=row(
            [1.0, 1.0, 1.0], gradient("col", "draw:d2", [(0, (1.0, 0.2, 0.1)), (1, (0.2, 0.3, 2.0))], read="once")
        ),
    )
    return with_(base, **changes)


def frame_bytes(result: Playing, number: int) -> bytes:
    return b"".join(a.tobytes() for a in result.particles(number).arrays.values())
