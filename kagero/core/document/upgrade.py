"""Older documents are brought up one schema version a step. Each step is pure: it never changes its input or invents
uids."""

from __future__ import annotations

import json
from collections.abc import Callable
from fractions import Fraction
from typing import Any

from ..errors import SchemaProblem
from .base import DOCUMENT_FORMAT, SCHEMA_VERSION


def _from_1(document: dict[str, Any]) -> dict[str, Any]:
    """Draws had no bounds and were 0 to 1: write these down. All else that is new in version 2 has a default."""
    emitters = document.get("emitters")
    if not isinstance(emitters, list):
        return document
    return {**document, "emitters": [_bounded_draws(e) if isinstance(e, dict) else e for e in emitters]}


def _bounded_draws(emitter: dict[str, Any]) -> dict[str, Any]:
    draws = emitter.get("draws")
    if not isinstance(draws, list):
        return emitter
    bounds = {"kind": "uniform", "low": {"base": 0}, "high": {"base": 1}}
    return {**emitter, "draws": [{**bounds, **draw} if isinstance(draw, dict) else draw for draw in draws]}


def _from_2(document: dict[str, Any]) -> dict[str, Any]:
    """Version 3 adds dials and formulas; all of it has defaults."""
    return document


def _from_3(document: dict[str, Any]) -> dict[str, Any]:
    """Frame rates were decimals; they are exact fractions now: 23.976 and its like meant the rates of SMPTE ST 12-1
    over 1.001."""
    clip = document.get("clip")
    rate = clip.get("frame_rate") if isinstance(clip, dict) else None
    if isinstance(rate, bool) or not isinstance(rate, (int, float)) or not 0 < rate < 1e6:
        return document
    return {**document, "clip": {**clip, "frame_rate": list(exact_rate(rate))}}  # type: ignore[dict-item]


def _from_4(document: dict[str, Any]) -> dict[str, Any]:
    """What a launch is aimed at, what a mask is, and a look say which kind they are; each has the fields that take part
    in it, and no others. Fields of another kind played no part."""
    upgraded = dict(document)
    if isinstance(upgraded.get("emitters"), list):
        upgraded["emitters"] = [_kinds_of_emitter(e) if isinstance(e, dict) else e for e in upgraded["emitters"]]
    if isinstance(upgraded.get("props"), list):
        upgraded["props"] = [
            _kind_of_mask(p) if isinstance(p, dict) and p.get("kind") == "mask" else p for p in upgraded["props"]
        ]
    return upgraded


def _from_5(document: dict[str, Any]) -> dict[str, Any]:
    """Version 6 adds remarks on rows; all of it has defaults."""
    return document


def _from_6(document: dict[str, Any]) -> dict[str, Any]:
    """Whether pictures show a prop is said beside how the stage does: what was hidden was in neither. What else is new
    has defaults: units shown, folders, groups, layers of strokes, paint, keys and named settings of dials."""
    props = document.get("props")
    if not isinstance(props, list):
        return document
    hidden = {"in_pictures": False}
    return {
        **document,
        "props": [
            {**hidden, **p} if isinstance(p, dict) and p.get("shown") == "hidden" and p.get("kind") != "mask" else p
            for p in props
        ],
    }


_AIMS_4 = {
    "direction": ("direction", "space", "cone", "speed", "inherit"),
    "normal": ("cone", "speed", "inherit"),
    "away": ("cone", "speed", "origin", "inherit"),
    "guided": ("guide", "cone", "origin", "multiplier", "offset", "inherit"),
}
_LAUNCH_4 = ("direction", "cone", "speed", "aim", "space", "origin", "inherit", "guide", "multiplier", "offset")
_STANDING_4 = ("position", "rotation", "scale")
_EDGED_4 = ("falloff", "edge", "noise_scale", "noise_drift", "curve")
_LEVELLED_4 = ("level", "softness", "curve")
_MASKS_4: dict[str, tuple[str, ...]] = {
    "sphere": (*_STANDING_4, *_EDGED_4, "radius"),
    "box": (*_STANDING_4, *_EDGED_4, "size"),
    "slab": (*_STANDING_4, *_EDGED_4, "size"),
    "plane": (*_STANDING_4, *_EDGED_4),
    "cylinder": (*_STANDING_4, *_EDGED_4, "radius", "size"),
    "mesh": (*_EDGED_4, "radius", "of"),
    "distance": (*_EDGED_4, "radius", "of"),
    "picture": (*_LEVELLED_4, "of", "channel"),
    "noise": (*_LEVELLED_4, "amplitude", "noise_scale", "noise_drift"),
    "formula": (*_LEVELLED_4, "formula"),
    "union": ("masks",),
    "intersection": ("masks",),
    "difference": ("masks",),
}
_MASK_4 = {*_STANDING_4, *_EDGED_4, *_LEVELLED_4, "radius", "size", "of", "masks", "amplitude", "channel", "formula"}


def _kinds_of_emitter(emitter: dict[str, Any]) -> dict[str, Any]:
    births, look = emitter.get("births"), emitter.get("look")
    upgraded = dict(emitter)
    if isinstance(look, dict):
        upgraded["look"] = {"sprite": "soft_disc", **look}
    launch = births.get("launch") if isinstance(births, dict) else None
    if isinstance(births, dict) and isinstance(launch, dict):
        aim = launch.get("aim", "direction")
        if aim in _AIMS_4:
            launch = {
                "aim": aim,
                **{key: value for key, value in launch.items() if key not in _LAUNCH_4 or key in _AIMS_4[aim]},
            }
        upgraded["births"] = {**births, "launch": launch}
    return upgraded


def _kind_of_mask(mask: dict[str, Any]) -> dict[str, Any]:
    fields = _MASKS_4.get(str(mask.get("shape")))
    if fields is None:
        return mask
    upgraded = {key: value for key, value in mask.items() if key not in _MASK_4 or key in fields}
    return {**upgraded, "shown": "hidden" if mask.get("shown") == "hidden" else "lines"}


def exact_rate(decimal: float) -> tuple[int, int]:
    """Return a frame rate that was written as a decimal, as a fraction: 23.976 or 23.98 is 24000/1001, 12.5 is 25/2."""
    for whole in (24, 30, 48, 60, 120):
        if decimal != round(decimal) and abs(decimal - whole * 1000 / 1001) < 0.006:
            return whole * 1000, 1001
    fraction = Fraction(decimal).limit_denominator(1001)
    return fraction.numerator, fraction.denominator


def _from_7(document: dict[str, Any]) -> dict[str, Any]:
    """What curl noise called drift is its evolution; its drift is the velocity of the whole pattern."""
    uids = {
        force.get("uid")
        for emitter in _dicts(document.get("emitters"))
        for force in _dicts(emitter.get("forces"))
        if force.get("kind") == "curl_noise"
    }
    old = {f"forces.{uid}.drift": f"forces.{uid}.evolution" for uid in uids}

    def renamed(value: Any) -> Any:
        if isinstance(value, dict):
            inner = {key: renamed(each) for key, each in value.items()}
            if value.get("kind") == "curl_noise" and "evolution" not in value and "drift" in inner:
                inner["evolution"] = inner.pop("drift")
            return inner
        if isinstance(value, list):
            return [renamed(each) for each in value]
        return old.get(value, value) if isinstance(value, str) else value

    return renamed(document)


def _from_8(document: dict[str, Any]) -> dict[str, Any]:
    """Version 9 adds how hard a disc's edge is, and what lies between laying over and adding light; all of it has
    defaults."""
    return document


def _from_9(document: dict[str, Any]) -> dict[str, Any]:
    """Version 10 adds further looks and looks that are drawn along lines; all of it has defaults."""
    return document


def _dicts(value: Any) -> list[dict[str, Any]]:
    return [each for each in value if isinstance(each, dict)] if isinstance(value, list) else []


def _from_10(document: dict[str, Any]) -> dict[str, Any]:
    """Pieces, blobs, parts of props and light were added: without them all is as it was."""
    return document


def _from_11(document: dict[str, Any]) -> dict[str, Any]:
    """Contacts, cues, births at a cue and pictures on blobs were added: without them all is as it was."""
    return document


def _from_12(document: dict[str, Any]) -> dict[str, Any]:
    """Ways to end, more that cues do and wait for, and particles that meet each other were added: without them all is
    as it was."""
    return document


def _from_13(document: dict[str, Any]) -> dict[str, Any]:
    """What is done to the picture, and the frame that it is seen in, were added: without them all is as it was."""
    return document


def _from_14(document: dict[str, Any]) -> dict[str, Any]:
    """What moves particles after the simulation, and when it is shown, were added: without them all is as it was."""
    return document


def _from_15(document: dict[str, Any]) -> dict[str, Any]:
    """What the ranges of responses were fitted to was added: of older ones it is not known."""
    return document


# from version -> document of the next version
STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
    7: _from_7,
    8: _from_8,
    9: _from_9,
    10: _from_10,
    11: _from_11,
    12: _from_12,
    13: _from_13,
    14: _from_14,
    15: _from_15,
}


def upgrade(document: dict[str, Any]) -> dict[str, Any]:
    """Return the document in the current schema version; the argument stays as it was."""
    if document.get("format") != DOCUMENT_FORMAT:
        raise SchemaProblem(
            f"This is not an effect: its format is {str(document.get('format'))[:40]!r}.",
            where="format",
            remedy=f'An effect file says "format": "{DOCUMENT_FORMAT}".',
        )
    version = document.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or not 1 <= version <= SCHEMA_VERSION:
        newer = isinstance(version, int) and not isinstance(version, bool) and version > SCHEMA_VERSION
        raise SchemaProblem(
            f"Schema version {json.dumps(version, default=str)[:40]} is unknown here; this Kagero reads 1 to "
            f"{SCHEMA_VERSION}.",
            where="schema_version",
            remedy="Open it with a newer Kagero, or export it in an older version there."
            if newer
            else "Correct it to the one that wrote the file.",
        )
    for step in range(version, SCHEMA_VERSION):
        document = {**STEPS[step](document), "schema_version": step + 1}
    return document
