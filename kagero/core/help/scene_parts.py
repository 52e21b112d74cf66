"""What the small effects of help are built from: an emitter, props, and how both are put into a document."""

from __future__ import annotations

import math
from typing import Any

from ..beginnings.parts import colours, curve, effect, row, source
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.looks import LOOKS
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..rows.model import Driven
from ..rows.placed import RowSpec
from .content import FILES

COLD, WARM, HOT = (0.03, 0.14, 0.16), (0.9, 0.5, 0.12), (2.4, 0.7, 0.1)
FADING = {"fades": "power"}
TO_PROP = {"swirl": {"by": "speed"}, "stream": {"path": "line"}, "spring": {"to": "point"}, "field": {"prop": "air"}}
LAST = 50  # frames, of 25 a second
SECONDS = 2.0


def emitter(**changes: Any) -> dict[str, Any]:
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
    scene = effect(
        "Card",
        list(emitters) or [emitter()],
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


def lined(tag: str, **more: Any) -> dict[str, Any]:
    """Return a look that is drawn along lines."""
    return {**LOOKS.kinds[tag].template(), "size": row(0.06), "colour": row([0.9, 0.5, 0.12]), **more}


def pushed(tag: str, whole: bool = False) -> dict[str, Any]:
    """Return what an emitter has in which a push acts. whole: with settings by which all of its rows take part."""
    push = PUSHES.kinds[tag]
    fades = FADING if whole and "fades" in push.model_fields else {}
    more = {**fades, **(TO_PROP.get(tag, {}) if whole or tag in ("stream", "field") else {})}
    fields: dict[str, Any] = {"forces": [{**push.template(), "uid": "it", **more}]}
    if tag == "neighbours":
        return {**fields, "motion": {"near": {}}}
    return {**fields, "target": {"prop": "ball"}} if tag == "toward_target" else fields


def riding(tag: str) -> dict[str, Any]:
    """Return what an emitter has whose particles ride."""
    ride: dict[str, Any] = {**RIDES.kinds[tag].template(), "uid": "it"}
    if tag == "target":
        return {"target": {"prop": "ball"}, "rides": [{**ride, "when": "always", "grip": row(8.0)}], "forces": []}
    ride["prop"] = "line" if tag == "path" else "ball"
    if tag == "surface":
        ride |= {"travel_u": row(0.4), "out": row(0.06)}
        return {
            "rides": [ride],
            "births": {**emitter()["births"], "place": {"kind": "prop", "prop": "ball", "on": "surface"}},
            "forces": [],
        }
    if tag == "crawl":
        births = emitter()["births"]
        return {
            "rides": [ride],
            "births": {**births, "place": {"kind": "prop", "prop": "ball", "on": "surface"}},
            "forces": [],
        }
    return {"rides": [{**ride, "radius": row(0.12), "turning": row(6.0)}], "forces": []}


def meeting(tag: str, **more: Any) -> dict[str, Any]:
    """Return a contact that the fountain meets."""
    known: dict[str, dict[str, Any]] = {"prop": {"prop": "ball"}, "plane": {"point": row([0.0, 0.25, 0.0])}}
    of = known.get(tag, {} if tag == "others" else {"centre": row([0.3, 0.75, 0.0])})
    return {**CONTACTS.kinds[tag].template(), "uid": "it", "bounce": row(0.6), **of, **more}


def happening(tag: str, **more: Any) -> dict[str, Any]:
    """Return what an emitter has in which a cue happens, all of whose rows take part."""
    half = {**CUES.kinds["test"].template(), "uid": "half", "name": "half"}
    known: dict[str, dict[str, Any]] = {
        "test": more,
        "clock": {"after": "half", "length": row(0.4)},
        "joined": {"of": ["half"]},
        "crowd": {"count": row(60.0)},
        "frame": {"frame": row(float(LAST // 2))},
        "elsewhere": {"emitter": "other", "cue": "half"},
    }
    kick = {"kick": row([0.0, 2.0, 0.0]), "speeds": row(0.2), "own": "count", "own_value": row(0.0)}
    more_deeds = {
        "chance": row(0.9),
        "times": "each",
        "sizes": row(0.7),
        "tints": row(0.5),
        "tint": row([0.2, 0.5, 0.9]),
    }
    fields = {**CUES.kinds[tag].template(), "uid": "it", "name": "it", **kick, **more_deeds, **known.get(tag, {})}
    return {
        "cues": [half, fields] if tag in ("clock", "joined") else [fields],
        "contacts": [meeting("plane")] if tag == "touch" else [],
    }


def with_other(one: dict[str, Any], props: list[dict[str, Any]] | None = None, dials: bool = False) -> dict[str, Any]:
    """Return a document of an emitter, with the one that its particles are born from, or whose cue it counts, where it
    does."""
    named = one["births"]["place"]["kind"] == "particles" or any(
        cue.get("emitter") == "other" for cue in one.get("cues", ())
    )
    half = {**CUES.kinds["test"].template(), "uid": "half", "name": "half"}
    others = [emitter(uid="other", name="Other", cues=[half])] if named else []
    needs = fixtures() if props is None else props
    return document(one, *others, props=needs, dials=dials)


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
