"""What the small effects of cards are built from: a fountain, props, and a document with a clip of two seconds."""

from __future__ import annotations

import math
from typing import Any

from ..beginnings.parts import effect
from ..rows.model import Driven
from ..rows.placed import RowSpec
from ..rows.writing import colours, curve, row, source
from .content import FILES

COLD, WARM, HOT = (0.03, 0.14, 0.16), (0.9, 0.5, 0.12), (2.4, 0.7, 0.1)
LAST = 50  # frames, of 25 a second
SECONDS = 2.0


def fountain(**changes: Any) -> dict[str, Any]:
    """Return a fountain: 90 births a second, 1.6 s of life. changes: births, look and so on, in place of its own."""
    fields = {
        "uid": "it",
        "name": "Card",
        "draws": [{"uid": "chance", "name": "draw A", "kind": "uniform"}],
        "own": [
            {"uid": "count", "name": "count", "kind": "number", "memory": True, "start": row(0.0), "change": row(1.0)}
        ],
        "births": {
            "rate": row(90.0),
            "place": {"kind": "disc", "centre": row([0.0, 0.2, 0.0]), "radius": row(0.25), "on": "inside"},
            "lifespan": row(1.6),
            "launch": {
                "aim": "direction",
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(math.radians(24)),
                "speed": row(2.3),
            },
        },
        "forces": [{"kind": "gravity", "uid": "fall", "strength": row(2.4)}],
        "look": {
            "sprite": "soft_disc",
            "blend": "over",
            "size": row(0.075),
            "opacity": row(1.0),
            "colour": row([0.9, 0.5, 0.12]),
        },
    }
    return {**fields, **changes}


def fixtures() -> list[dict[str, Any]]:
    """Return the props and masks that sources read in a card."""
    picture = {
        "kind": "picture",
        "uid": "sheet",
        "name": "glow",
        "files": [{"content": FILES["picture"], "name": "glow.png"}],
        "position": row([0.0, 0.8, 0.0]),
        "scale": row([2.0, 2.0, 2.0]),
        "shown": "hidden",
        "in_pictures": False,
    }
    sweep = curve(
        "swing",
        source("clip_time"),
        ((0, 0), (0.5, 1), (1, 0)),
        input=(0, SECONDS),
        output=(-0.7, 0.7),
        operation="set",
    ) | {"component": "x"}
    ball = {
        "kind": "shape",
        "uid": "ball",
        "name": "ball",
        "shape": "sphere",
        "radius": 0.22,
        "position": row([0.0, 1.0, 0.0], sweep),
        "tint": [0.12, 0.2, 0.22],
    }
    near = {
        "kind": "mask",
        "shape": "sphere",
        "uid": "near",
        "name": "near",
        "radius": row(0.5),
        "falloff": row(0.4),
        "follow": {"prop": "ball", "at": "place"},
        "shown": "hidden",
    }
    line = {
        "kind": "path",
        "uid": "line",
        "name": "line",
        "points": [[-0.9, 0.4, 0.0], [-0.3, 1.3, 0.4], [0.4, 0.5, -0.2], [0.9, 1.3, 0.0]],
        "shown": "lines",
        "in_pictures": False,
    }
    air = {
        "kind": "field",
        "uid": "air",
        "name": "air",
        "file": {"content": FILES["field"], "name": "air.npz"},
        "position": row([0.0, 0.8, 0.0]),
        "shown": "hidden",
    }
    return [ball, picture, near, line, air]


def document(
    *emitters: dict[str, Any], props: list[dict[str, Any]] | None = None, dials: bool = False
) -> dict[str, Any]:
    """Return the document of a card as plain data, of the fountain where no emitter is given."""
    scene = effect(
        "Card",
        list(emitters) or [fountain()],
        last=LAST,
        props=props or [],
        at=(0.0, 1.05, 3.7),
        target=(0.0, 0.85, 0.0),
    )
    scene["moments"] = [{"uid": "moment", "name": "moment", "frame": LAST // 2}]
    if dials:
        turn = [{"time": 0.0, "value": 0.0}, {"time": 1.0, "value": 1.0}, {"time": 2.0, "value": 0.0}]
        scene["dials"] = [
            {"uid": "turn", "name": "turn", "value": 0.5, "default": 0.5, "low": 0, "high": 1, "keys": turn}
        ]
    return scene


def usual(spec: RowSpec | Driven) -> tuple[float, float]:
    """Return about what a row is set to: from little or none to twice its default, or to half of what a full drag
    spans."""
    default = [spec.default] if not isinstance(spec.default, (tuple, list)) else list(spec.default)
    high = max(2 * max(default), spec.drag / 2)
    low = -high if spec.lowest < 0 and not any(default) else 0.0
    return max(low, spec.lowest), min(high, spec.highest)


def swept(spec: RowSpec) -> dict[str, Any]:
    """Return the response that takes a row from low to high and back over the clip."""
    read = "once" if spec.stage == "birth" else "live"
    clip = source("clip_time")
    if spec.kind == "colour":
        response_data = colours("sweep", clip, (0, COLD), (0.5, WARM), (1, (0.2, 0.3, 0.9)))
        return {**response_data, "input": [0, SECONDS], "read": read}
    low, high = usual(spec)
    response_data = curve(
        "sweep", clip, ((0, 0), (0.5, 1), (1, 0)), input=(0, SECONDS), output=(low, high), operation="set", read=read
    )
    return {**response_data, "component": "all" if spec.kind == "number" else "x"}
