"""Small effects for tests, made of plain parts."""

from __future__ import annotations

import copy
from typing import Any

from demo.parts import gradient, response, row
from kagero.core.document import Effect, exact_rate, read_effect
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing

__all__ = ["STRAIGHT", "document", "emitter", "gradient", "playing", "response", "row", "with_"]

STRAIGHT = [(0.0, 0.0), (1.0, 1.0)]


def emitter(uid: str = "one", **changes: Any) -> dict[str, Any]:
    """Return an emitter: 50 births a second at the origin, 1 s of life, straight up at 1 m/s, no forces."""
    base = {
        "uid": uid,
        "name": uid.title(),
        "draws": [{"uid": "d1", "name": "flicker", "kind": "uniform"}],
        "births": {
            "rate": row(50),
            "place": {"kind": "point", "centre": row([0.0, 0.0, 0.0])},
            "lifespan": row(1.0),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(1.0)},
        },
        "forces": [],
        "look": {"size": row(0.1), "opacity": row(1.0), "colour": row([1.0, 0.5, 0.25])},
    }
    return with_(base, **changes)


def document(*emitters: dict[str, Any], **clip: Any) -> dict[str, Any]:
    """Return an effect of 25 frames a second, frames 0 to 50. A frame rate may be given as a decimal."""
    if (rate := clip.get("frame_rate")) and not isinstance(rate, (list, tuple)):
        clip["frame_rate"] = list(exact_rate(rate))
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Test",
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": 50, **clip},
        "camera": {"position": [0.0, 1.0, 4.0], "target": [0.0, 1.0, 0.0]},
        "emitters": list(emitters) or [emitter()],
    }


def with_(base: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """Return a copy with values changed at paths: with_(e, births__rate=row(5))."""
    result = copy.deepcopy(base)
    for path, value in changes.items():
        *steps, last = path.split("__")
        target = result
        for step in steps:
            target = target[int(step)] if isinstance(target, list) else target[step]
        target[last] = value
    return result


def playing(*emitters: dict[str, Any], store: FrameStore | None = None, **clip: Any) -> Playing:
    effect: Effect = read_effect(document(*emitters, **clip))
    return Playing(effect, store)
