"""The catalog as plain data for the interface."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from .presets import CURVE_PRESETS
from .rows import ROWS
from .sources import SOURCES, refusal

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
}
FORCES = {
    "gravity": "Gravity",
    "buoyancy": "Buoyancy",
    "wind": "Wind",
    "drag": "Drag",
    "curl_noise": "Curl noise",
}


def _template(prefix: str, fields: list[str]) -> dict[str, Any]:
    return {field: {"base": ROWS[f"{prefix}.{field}"].default, "responses": []} for field in fields}


def catalog_as_dict() -> dict[str, Any]:
    """Return rows, sources, operations, places, forces and presets with words, units, ranges and defaults."""
    return {
        "rows": [
            {**asdict(spec), "refuses": {kind: reason for kind in SOURCES if (reason := refusal(spec, kind))}}
            for spec in ROWS.values()
        ],
        "sources": [asdict(spec) for spec in SOURCES.values()],
        "operations": [{"kind": kind, "sign": sign, "help": text} for kind, (sign, text) in OPERATIONS.items()],
        "places": [
            {"kind": kind, "label": label, "on": on, "template": {"kind": kind, **_template("births.place", fields)}}
            for kind, (label, fields, on) in PLACES.items()
        ],
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
