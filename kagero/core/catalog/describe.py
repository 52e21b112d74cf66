"""The catalog as plain data for the interface, all of it from the parts."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..document import Births, Emitter, Motion, Thinning
from ..parts.draws import DRAWS
from ..parts.launches import LAUNCHES
from ..parts.looks import LOOKS
from ..parts.places import PLACES
from ..parts.pushes import PUSHES
from ..parts.sources import SOURCES
from ..rows.model import Part, fields_of, ordered
from ..rows.placed import RowSpec, kind_of, spec_of
from ..rows.responses import OUTPUT, CurveResponse, GradientResponse, RatioResponse
from ..rows.source import GROUPS
from ..rows.units import DIAL_UNITS
from .examples import EXAMPLES
from .formulas import function_list
from .presets import CURVE_PRESETS

OPERATIONS = {
    "multiply": ("×", "The row so far times the response."),
    "set": ("=", "The response takes the place of the row so far."),
    "add": ("+", "The response is added, in the row's own unit."),
    "at_most": ("≤", "The row so far, but never more than the response."),
    "at_least": ("≥", "The row so far, but never less than the response."),
}
BEYOND = {
    "hold": "Outside the range the curve's ends hold.",
    "repeat": "Outside the range the curve starts again.",
    "mirror": "Outside the range the curve runs back and forth.",
}


def rows_of_kind(kind: type[Part]) -> dict[str, RowSpec]:
    """Return the rows that a kind of part has, by their fields."""
    return {
        facts.name: spec_of(kind, facts.name, facts.driven, kind_of(facts.annotation))
        for facts in ordered(kind)
        if facts.driven
    }


def emitter_rows() -> list[RowSpec]:
    """Return every row that an emitter can have, each key once."""
    births, within = rows_of_kind(Births), {"place": PLACES.classes(), "launch": LAUNCHES.classes()}
    specs: dict[str, RowSpec] = {}
    for facts in fields_of(Births):
        if facts.name in births:
            specs[births[facts.name].key] = births[facts.name]
        for kind in within.get(facts.name, ()):
            specs |= {spec.key: spec for spec in rows_of_kind(kind).values() if spec.key not in specs}
    others: list[type[Part]] = [*PUSHES.classes(), Motion, Thinning, *LOOKS.classes()]
    for kind in others:
        specs |= {spec.key: spec for spec in rows_of_kind(kind).values() if spec.key not in specs}
    return list(specs.values())


def _settings() -> dict[str, dict[str, RowSpec]]:
    """Return the settings of responses that are rows themselves, by the kind of response and their name."""
    described = {}
    for kind in (CurveResponse, GradientResponse, RatioResponse):
        drivens = {facts.name: facts.driven for facts in fields_of(kind) if facts.driven}
        drivens |= {"low": OUTPUT[0], "high": OUTPUT[1]} if kind is CurveResponse else {}
        described[kind.model_fields["kind"].default] = {
            name: RowSpec(
                f"settings.{name}",
                d.label,
                "look",
                "number",
                "live",
                d.unit,
                d.lowest,
                d.highest,
                d.drag,
                d.default,
                d.help,
                False,
                f"settings.{name}",
            )
            for name, d in drivens.items()
        }
    return described


def emitter_template() -> dict[str, Any]:
    """Return a new emitter without uid and name: a small fountain, so that something is seen at once."""
    fountain = {
        "births": {
            "rate": {"base": 60},
            "place": {**template_of("disc", PLACES), "on": "inside"},
            "lifespan": {"base": 2},
            "launch": template_of("direction", LAUNCHES),
        },
        "look": LOOKS.classes()[0].template(),
    }
    emitter = Emitter.model_validate({"uid": "new", "name": "New", **fountain})
    return emitter.model_dump(
        mode="json", exclude={"uid", "name", "visible", "forces", "draws", "own", "muted_sources", "sheet"}
    )


def template_of(tag: str, union: Any) -> dict[str, Any]:
    """Return a new part of a kind as plain data."""
    return union.kinds[tag].template()


def catalog_as_dict() -> dict[str, Any]:
    """Return what holds for every effect: settings of responses, kinds of draws and sources, operations, functions,
    presets, with words, units, ranges and defaults. What holds for one effect is said by its layout."""
    labels = {spec.key: spec.label for spec in emitter_rows()}
    return {
        "settings": {
            kind: {name: asdict(spec) for name, spec in settings.items()} for kind, settings in _settings().items()
        },
        "dial_units": {name: asdict(unit) for name, unit in DIAL_UNITS.items()},
        "functions": function_list(),
        "examples": [{**asdict(example), "row": labels.get(example.address, "")} for example in EXAMPLES],
        "sources": [
            {
                "kind": kind.tag(),
                "label": kind.label,
                "group": kind.group,
                "unit": asdict(kind.unit),
                "default_input": list(kind.usual),
                "per_particle": kind.per_particle,
                "changes": kind.changes,
                "help": kind.help,
                "shape": kind.shape,
            }
            for kind in SOURCES.classes()
        ],
        "groups": list(GROUPS),
        "beyond": [{"kind": kind, "help": text} for kind, text in BEYOND.items()],
        "draws": [
            {
                "kind": tag,
                "label": kind.label,
                "help": kind.help,
                "template": kind.template(),
                "range": list(kind.model_validate({**kind.template(), "uid": "new", "name": "New"}).range()),
            }
            for tag, kind in DRAWS.kinds.items()
        ],
        "emitter": emitter_template(),
        "operations": [{"kind": kind, "sign": sign, "help": text} for kind, (sign, text) in OPERATIONS.items()],
        "presets": [
            {"name": name, "keys": [{"x": x, "y": y, "shape": shape} for x, y, shape in keys]}
            for name, keys in CURVE_PRESETS.items()
        ],
    }
