"""Parts that the demo's effects are written with: rows, responses, gradients, props."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from kagero.core.formats.importing import content_hash

PROPS = Path(__file__).parent / "props"


def row(base: Any, *responses: dict[str, Any]) -> dict[str, Any]:
    return {"base": base, "responses": list(responses)}


def response(
    uid: str,
    source: str | dict[str, Any],
    keys: list[tuple[float, float]],
    *,
    input: tuple[float, float] = (0, 1),
    output: tuple[float, float] = (0, 1),
    read: str = "live",
    shape: str = "smooth",
    operation: str = "multiply",
    muted: bool = False,
) -> dict[str, Any]:
    return {
        "kind": "curve",
        "uid": uid,
        "source": _source(source),
        "read": read,
        "input": input,
        "output": output,
        "curve": {"keys": [{"x": x, "y": y, "shape": shape} for x, y in keys]},
        "operation": operation,
        "muted": muted,
    }


def gradient(
    uid: str,
    source: str | dict[str, Any],
    stops: list[tuple[float, tuple[float, float, float]]],
    *,
    input: tuple[float, float] = (0, 1),
    read: str = "live",
    operation: str = "set",
) -> dict[str, Any]:
    return {
        "kind": "gradient",
        "uid": uid,
        "source": _source(source),
        "read": read,
        "input": input,
        "gradient": {"stops": [{"x": x, "colour": colour} for x, colour in stops]},
        "operation": operation,
    }


def flutter(uid: str, seconds: float, narrowest: float = 0.25) -> dict[str, Any]:
    """Return how wide a flat thing looks that turns over and over: a row, there and back in so many seconds."""
    turning = response(uid, "age", [(0, 1), (0.5, 0.6), (1, 0)], input=(0, seconds), output=(narrowest, 1))
    return row(1.0, {**turning, "beyond": "mirror"})


def finish(uid: str, kind: str, name: str = "", **more: Any) -> dict[str, Any]:
    """Return one thing that is done to the picture; numbers and colours are rows."""
    plain = ("blurs", "moments", "measured", "opens", "on", "plate", "coloured", "emitters", "props")
    rows = {key: value if key in plain or isinstance(value, dict) else row(value) for key, value in more.items()}
    return {"uid": uid, "kind": kind, "name": name or kind.replace("_", " "), **rows}


def trailing(uid: str, *, seconds: float, wide: float, opacity: float, detail: int = 24) -> dict[str, Any]:
    """Return a trail of light behind particles, of their own colour: so wide, as a share of their size, and so much of
    their opacity."""
    own = lambda kind, **more: {"base": {"source": {"kind": kind, **more}, "read": "live"}, "responses": []}
    less = lambda name, share: response(f"{uid}-{name}", "along", [(0, 1), (1, 1)], output=(0, share), shape="linear")
    return {
        "sprite": "trail",
        "uid": uid,
        "blend": "add",
        "detail": detail,
        "seconds": row(seconds),
        "taper": row(1.0),
        "fade": row(1.0),
        "hardness": row(0.2),
        "size": {**own("size"), "responses": [less("wide", wide)]},
        "opacity": {**own("opacity"), "responses": [less("thin", opacity)]},
        "colour": own("colour", part="whole"),
    }


def ratio(uid: str, source: str, reference: float, power: float, *, read: str = "live") -> dict[str, Any]:
    return {
        "kind": "ratio",
        "uid": uid,
        "source": _source(source),
        "read": read,
        "reference": reference,
        "power": power,
    }


def _source(text: str) -> dict[str, str]:
    if isinstance(text, dict):
        return text
    kind, _, uid = text.partition(":")
    return {"kind": kind, kind: uid} if uid else {"kind": kind}


STRAIGHT = [(0.0, 0.0), (1.0, 1.0)]


def file(name: str) -> dict[str, str]:
    """Return what an effect says of a file in demo/props."""
    return {"content": content_hash((PROPS / name).read_bytes()), "name": name}


def prop(uid: str, name: str, kind: str, **more: Any) -> dict[str, Any]:
    return {"uid": uid, "name": name, "kind": kind, **more}


def written(uid: str, text: str, read: str = "live") -> dict[str, Any]:
    """Return a row whose base is a formula."""
    return {"base": {"source": {"kind": "formula", "uid": uid, "text": text}, "read": read}, "responses": []}
