"""A prop broken up, as an edit of an effect: an emitter of its parts, drawn as what they are, held for a moment and
then let go."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..document import Effect, read_effect
from ..errors import RequestError
from ..parts.pushes import PUSHES
from ..rows.view import find_thing
from .sheet.adding import free_name
from .validate import check_no_worse

HELD_FOR, TUMBLE = 1.0, 2.5  # seconds; radians a second


def break_up(effect: Effect, uid: str, new_uid: Callable[[], str]) -> tuple[Effect, str]:
    """Return the document with an emitter of the parts of a prop, which is hidden, and the emitter's uid. Raises
    RequestError for a prop that cannot be broken up."""
    prop = find_thing(effect.props, uid)
    if prop is None or not prop.breaks:
        raise RequestError(
            "This prop has no surface to break.",
            where="prop",
            remedy="Choose a mesh, words, a drawing, a shape or a picture.",
        )
    pieces = {
        **emitter_of(prop, new_uid),
        "uid": new_uid(),
        "name": free_name(list(effect.emitters), f"{prop.name[:60]} in parts"),
    }
    data = effect.model_dump(mode="json")
    for each in data["props"]:
        if each["uid"] == uid:
            each |= {"shown": "hidden", "in_pictures": False}
    pieces["births"]["lifespan"] = _row(max(1.0, effect.clip.seconds(effect.clip.last_frame + 1) + 1))
    data["emitters"].append(pieces)
    return check_no_worse(effect, read_effect(data)), str(pieces["uid"])


def emitter_of(prop: Any, new_uid: Callable[[], str]) -> dict[str, Any]:
    """Return an emitter of a prop's parts as plain data, but for its uid and name."""
    draws = [
        {"uid": new_uid(), "name": f"turn {axis}", "kind": "uniform", "low": _row(-TUMBLE), "high": _row(TUMBLE)}
        for axis in "xyz"
    ]
    reach = [-TUMBLE, TUMBLE]
    spin = [
        {
            "kind": "curve",
            "uid": new_uid(),
            "source": {"kind": "draw", "draw": draw["uid"]},
            "read": "once",
            "component": axis,
            "operation": "add",
            "input": reach,
            "output": reach,
            "curve": _straight(),
        }
        for draw, axis in zip(draws, "xyz", strict=True)
    ]
    heavy = {
        "kind": "ratio",
        "uid": new_uid(),
        "source": {"kind": "part", "what": "share"},
        "read": "once",
        "operation": "multiply",
    }
    let_go = {
        "kind": "curve",
        "uid": new_uid(),
        "source": {"kind": "age"},
        "read": "live",
        "operation": "multiply",
        "input": [0, HELD_FOR * 2],
        "output": [0, 1],
        "curve": {"keys": [{"x": 0, "y": 1, "shape": "hold"}, {"x": 0.5, "y": 0, "shape": "hold"}]},
    }
    into = "areas" if prop.film else prop.breaks_as
    return {
        "draws": draws,
        "births": {
            "rate": _row(0.0),
            "place": {"kind": "parts", "prop": prop.uid, "into": into},
            "lifespan": _row(10.0),
            "mass": _row(1.0, heavy),
            "launch": {"aim": "direction", "direction": _row([0.0, 1.0, 0.0]), "cone": _row(0.0), "speed": _row(0.0)},
        },
        "motion": {"grip": _row(1000.0, let_go), "turning": {"spin": _row([0.0, 0.0, 0.0], *spin)}},
        "forces": [{**PUSHES.kinds["gravity"].template(), "uid": new_uid()}],
        "look": {
            "sprite": "piece",
            "form": "part",
            "blend": "over",
            "size": _row(1.0),
            "opacity": _row(1.0),
            "colour": _row([1.0, 1.0, 1.0]),
        },
    }


def _row(base: Any, *responses: dict[str, Any]) -> dict[str, Any]:
    return {"base": base, "responses": list(responses)}


def _straight() -> dict[str, Any]:
    return {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]}
