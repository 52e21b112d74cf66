"""Small effects in which particles hang in a box, and a mask or a shaping goes through them."""

from __future__ import annotations

from typing import Any

from ..beginnings.parts import colours, curve, row, source
from ..parts.masks import MASKS
from ..parts.shapings import SHAPINGS
from ..rows.model import fields_of
from .scene_parts import COLD, HOT, SECONDS, WARM, document, emitter, fixtures, usual
from .scenes import mask_fields, shaped


def mask_scene(shape: str) -> dict[str, Any]:
    """Return the document in which particles that hang in a box are coloured by a mask that moves through them."""
    fields, props = mask_fields(shape), fixtures()
    sweep = curve(
        "sweep", source("clip_time"), ((0, 0), (0.5, 1), (1, 0)), input=(0, SECONDS), output=(0.1, 1.5), operation="set"
    ) | {"component": "y"}
    if "position" in MASKS.kinds[shape].model_fields:
        fields["position"] = row([0.0, 0.8, 0.0], sweep)
    low = {
        "kind": "mask",
        "shape": "slab",
        "uid": "low",
        "name": "low",
        "size": row([1.0, 0.5, 1.0]),
        "falloff": row(0.1),
        "position": row([0.0, 0.7, 0.0]),
        "shown": "hidden",
    }
    if shape == "painted":
        props[0]["paint"] = [{"kind": "paint", "radius": 0.25, "points": [[0.0, 0.22, 0.0]]}]
    ramp = colours("ramp", source("mask", mask="it", part="value"), (0, COLD), (0.5, WARM), (1, HOT))
    return document(hanging([1.9, 1.5, 0.5], ramp), props=[*props, low, fields])


def hanging(size: list[float], ramp: dict[str, Any], **more: Any) -> dict[str, Any]:
    """Return an emitter whose particles hang in a box of a size, coloured by a response."""
    place = {"kind": "box", "centre": row([0.0, 0.85, 0.0]), "size": row(size)}
    births = {
        "rate": row(0.0),
        "bursts": [{"uid": "all", "frame": 0, "count": 700}],
        "place": place,
        "lifespan": row(9.0),
        "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
    }
    look = {**emitter()["look"], "size": row(0.05), "colour": row([0.9, 0.5, 0.12], ramp)}
    return emitter(births=births, forces=[], look=look, **more)


def shaping_scene(kind: str) -> dict[str, Any]:
    """Return the document in which what hangs in a box is moved more and less over the clip."""
    fields = shaped(kind)
    most = usual(
        next(facts.driven for facts in fields_of(SHAPINGS.kinds[kind]) if facts.name == "amount" and facts.driven)
    )[1]
    fields["amount"] = row(
        0.0,
        curve(
            "sweep",
            source("clip_time"),
            ((0, 0), (0.5, 1), (1, 0)),
            input=(0, SECONDS),
            output=(0.0, most),
            operation="set",
        ),
    )
    ramp = colours("ramp", source("position", part="y"), (0, COLD), (0.5, WARM), (1, HOT)) | {"input": [0.1, 1.6]}
    return document(hanging([0.7, 1.5, 0.7], ramp, shaping=[fields]), props=fixtures())
