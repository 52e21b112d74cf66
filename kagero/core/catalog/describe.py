"""The catalog as plain data for the interface."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..effect import BOUNDS, Emitter, MaskProp, Thinning
from .examples import EXAMPLES
from .formulas import function_list
from .placing import BIRTHS_ON, GUIDES
from .presets import CURVE_PRESETS
from .rows import DIAL_UNITS, DRAW_ROWS, MASK_ROWS, OWN_ROWS, OWN_UNITS, PROP_ROWS, ROWS, SETTINGS
from .sources import GROUPS, PARTED, PARTS, SOURCES

OPERATIONS = {
    "multiply": ("×", "The row so far times the response."),
    "set": ("=", "The response takes the place of the row so far."),
    "add": ("+", "The response is added, in the row's own unit."),
    "at_most": ("≤", "The row so far, but never more than the response."),
    "at_least": ("≥", "The row so far, but never less than the response."),
}
PLACES = {
    "point": ("Point", ["centre"], {}),
    "disc": ("Disc", ["centre", "radius"], {"inside": "anywhere on it", "surface": "on its rim"}),
    "sphere": ("Sphere", ["centre", "radius"], {"inside": "anywhere inside", "surface": "on its surface"}),
    "box": ("Box", ["centre", "size"], {"inside": "anywhere inside", "surface": "on its surface"}),
    "prop": ("A prop", ["offset"], {"surface": "on its surface", "inside": "anywhere inside", "points": "at its points", "edges": "along its lines"}),
    "particles": ("Particles", ["inherit_size", "inherit_colour"], {}),
}
# aims of the launch: words, and the rows that take part
AIMS = {
    "direction": ("in a direction", "The same direction for all, in the world's space or turning with the prop.", ["direction"]),
    "normal": ("along the normal", "Away from the surface where each is born.", []),
    "away": ("away from a point", "From a point outward through where each is born.", ["origin"]),
    "guided": ("guided by a mesh", "Away from a point, as fast as a guide mesh is far from the particle in that direction.",
               ["origin", "multiplier", "offset"]),
}  # fmt: skip
MASKS = {
    "sphere": ("Sphere", "Within a radius.", ""),
    "box": ("Box", "Within width, height and depth.", ""),
    "slab": ("Slab", "Between two planes; its size's y is how thick it is.", ""),
    "plane": ("Plane", "All on the lower side of it.", ""),
    "cylinder": ("Cylinder", "Within a radius about its axis, as high as its size's y.", ""),
    "mesh": ("Inside a mesh", "Within a prop, grown by the radius.", "solid"),
    "distance": ("Distance to a prop", "Within a radius of where a prop or camera stands.", "placed"),
    "picture": ("Picture", "By a picture, seen along its axis.", "picture"),
    "noise": ("Noise", "Where noise is over a level.", ""),
    "formula": ("Formula", "A number over space and time, from 0 to 1 about a level.", ""),
    "union": ("Any of", "Where at least one of other masks is.", "masks"),
    "intersection": ("All of", "Where all of other masks are.", "masks"),
    "difference": ("One without others", "Where the first mask is and the others are not.", "masks"),
}
BEYOND = {
    "hold": "Outside the range the curve's ends hold.",
    "repeat": "Outside the range the curve starts again.",
    "mirror": "Outside the range the curve runs back and forth.",
}
DRAWS = {
    "uniform": ("evenly between", "Every value between two is as likely as any other."),
    "spread": ("around a centre", "Evenly within a spread to both sides of a centre."),
    "normal": ("normal", "Most near the mean, few far from it; on request without sign, and held between bounds."),
    "choice": ("one of a few", "One of the values listed, each as often as its weight says."),
    "sign": ("sign", "+1 with a chance, else -1: flips what it multiplies."),
    "integer": ("whole number", "A whole number between two, both included."),
}
OWN = {
    "number": "A number: set at birth, or counted up and down with memory.",
    "vector": "Three numbers: a remembered place, an offset.",
    "colour": "A colour in linear light.",
}
FORCES = {
    "gravity": "Gravity",
    "buoyancy": "Buoyancy",
    "wind": "Wind",
    "drag": "Drag",
    "curl_noise": "Curl noise",
}


def _draw_template(kind: str) -> dict[str, Any]:
    bounds = {name: {"base": DRAW_ROWS[name].default, "responses": []} for name in BOUNDS[kind]}
    return {"kind": kind, **bounds, **({"options": [{"value": 0, "weight": 1}, {"value": 1, "weight": 1}]} if kind == "choice" else {})}


def _emitter_template() -> dict[str, Any]:
    """Return a new emitter without uid and name: a small fountain, so that something is seen at once."""
    emitter = Emitter.model_validate({"uid": "new", "name": "New", **_fountain()})
    return emitter.model_dump(mode="json", exclude={"uid", "name", "visible", "forces", "draws", "own", "muted_sources", "sheet"})


def _mask_template(shape: str) -> dict[str, Any]:
    """Return a new mask without uid and name."""
    level: dict[str, Any] = {"level": {"base": 0.0}, "softness": {"base": 0.2}} if shape == "noise" else {}
    falloff: dict[str, Any] = {"falloff": {"base": 0.1}} if "falloff" in MASK_ROWS[shape] else {}
    of: dict[str, Any] = {"of": None, "radius": {"base": 0.0 if shape == "mesh" else 0.5}}
    text: dict[str, Any] = {"formula": "1 - length(position)"} if shape == "formula" else {}
    mask = MaskProp.model_validate({"uid": "new", "name": "New", "kind": "mask", "shape": shape, "shown": "lines", **level, **falloff, **of, **text})
    return mask.model_dump(mode="json", exclude={"uid", "name"})


def _fountain() -> dict[str, Any]:
    return {
        "births": {
            "rate": {"base": 60, "responses": []},
            "place": {"kind": "disc", "on": "inside", **_template("births.place", ["centre", "radius"])},
            "lifespan": {"base": 2, "responses": []},
            "launch": _template("births.launch", ["direction", "cone", "speed"]),
        },
        "look": {"blend": "over", **_template("look", ["size", "opacity", "colour"])},
    }


def _template(prefix: str, fields: list[str]) -> dict[str, Any]:
    return {field: {"base": ROWS[f"{prefix}.{field}"].default, "responses": []} for field in fields}


def catalog_as_dict() -> dict[str, Any]:
    """Return rows, sources, operations, places, forces, draws and presets with words, units, ranges and defaults."""
    return {
        "rows": [asdict(spec) for spec in ROWS.values()],
        "prop_rows": {name: asdict(spec) for name, spec in PROP_ROWS.items()},
        "draw_rows": {name: asdict(spec) for name, spec in DRAW_ROWS.items()},
        "own_rows": {name: asdict(spec) for name, spec in OWN_ROWS.items()},
        "settings": {name: asdict(spec) for name, spec in SETTINGS.items()},
        "own_units": {name: asdict(unit) for name, unit in OWN_UNITS.items()},
        "dial_units": {name: asdict(unit) for name, unit in DIAL_UNITS.items()},
        "functions": function_list(),
        "examples": [asdict(example) for example in EXAMPLES],
        "sources": [asdict(spec) for spec in SOURCES.values()],
        "parts": PARTS,
        "source_parts": {
            kind: {part: {"label": label, "unit": asdict(unit)} for part, (label, unit, *_) in parts.items()} for kind, parts in PARTED.items()
        },
        "groups": list(GROUPS),
        "beyond": [{"kind": kind, "help": text} for kind, text in BEYOND.items()],
        "draws": [
            {"kind": kind, "label": label, "help": text, "bounds": list(BOUNDS[kind]), "template": _draw_template(kind)}
            for kind, (label, text) in DRAWS.items()
        ],
        "own": [{"kind": kind, "help": text} for kind, text in OWN.items()],
        "emitter": _emitter_template(),
        "operations": [{"kind": kind, "sign": sign, "help": text} for kind, (sign, text) in OPERATIONS.items()],
        "places": [
            {"kind": kind, "label": label, "on": on, "template": {"kind": kind, **_template("births.place", fields)}}
            for kind, (label, fields, on) in PLACES.items()
        ],
        "births_on": {kind: list(on) for kind, on in BIRTHS_ON.items()},
        "aims": [{"kind": kind, "label": label, "help": help, "rows": rows} for kind, (label, help, rows) in AIMS.items()],
        "guides": list(GUIDES),
        "masks": [
            {"shape": shape, "label": label, "help": help, "needs": needs, "rows": list(MASK_ROWS[shape]), "template": _mask_template(shape)}
            for shape, (label, help, needs) in MASKS.items()
        ],
        "thinning": Thinning().model_dump(mode="json"),
        "forces": [
            {
                "kind": kind,
                "label": label,
                "template": {
                    "kind": kind,
                    **_template(f"forces.{kind}", [key.rsplit(".", 1)[1] for key in ROWS if key.startswith(f"forces.{kind}.")]),
                    **({"octaves": 2} if kind == "curl_noise" else {}),
                },
            }
            for kind, label in FORCES.items()
        ],
        "presets": [
            {"name": name, "keys": [{"x": x, "y": y, "shape": shape} for x, y, shape in keys]}
            for name, keys in CURVE_PRESETS.items()
        ],
    }  # fmt: skip
