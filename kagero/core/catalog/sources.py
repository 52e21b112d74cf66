"""Every source: what can drive a row, its words, unit and usual range."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from .rows import (
    DEGREES,
    DEGREES_PER_SECOND,
    DIAL_UNITS,
    FRAMES,
    KILOGRAMS,
    METRES,
    METRES_PER_SECOND,
    OWN_UNITS,
    PERCENT,
    PLAIN,
    SECONDS,
    PlacedRow,
    Unit,
    rows_of,
    settings_of,
)

if TYPE_CHECKING:
    from .scope import Scope


@dataclass(frozen=True)
class SourceSpec:
    """A kind of source. shape: number, or the parts it can be read by. changes: within a particle's life."""

    kind: str
    label: str
    group: str
    unit: Unit
    default_input: tuple[float, float]
    per_particle: bool
    changes: bool
    help: str
    shape: str = "number"


GROUPS = ("formula", "dials", "masks", "props", "pictures", "parent", "time", "place", "motion", "look", "birth", "draws", "own", "rows")


def _spec(kind: str, label: str, group: str, unit: Unit, low: float, high: float, help: str, *, changes: bool = True,
          particle: bool = True, shape: str = "number") -> SourceSpec:  # fmt: skip
    return SourceSpec(kind, label, group, unit, (low, high), particle, changes, help, shape)


SOURCES: dict[str, SourceSpec] = {
    spec.kind: spec
    for spec in [
        _spec("formula", "formula", "formula", PLAIN, 0, 1, "Anything else: arithmetic, conditions and functions over all that is listed here."),
        _spec("prop", "prop", "props", METRES, -1, 1, "Where a prop stands at this moment.", particle=False, shape="vector"),
        _spec("mask", "mask", "masks", PERCENT, 0, 1, "How much the particle is within a mask, as that stands now."),
        _spec("surface", "nearest place", "props", METRES, 0, 1, "The nearest place of a prop."),
        _spec("picture", "picture", "pictures", PLAIN, 0, 1, "A prop's picture or a mesh's own colours, in linear light.", shape="colour"),
        _spec("parent", "parent", "parent", PERCENT, 0, 1, "What the parent was at this particle's birth.", changes=False, shape="colour"),
        _spec("dial", "dial", "dials", PLAIN, 0, 1, "A named master control of the whole effect.", changes=False, particle=False),
        _spec("life", "life", "time", PERCENT, 0, 1, "Age as a share of the lifespan: 0 % at birth, 100 % at the end."),
        _spec("age", "age", "time", SECONDS, 0, 2, "Seconds since birth."),
        _spec("lifespan", "lifespan", "time", SECONDS, 0, 4, "How long the particle will have lived when it ends.", changes=False),
        _spec("clip_time", "clip time", "time", SECONDS, 0, 4, "Seconds since the first frame, the same for all: keyframes.", particle=False),
        _spec("height", "height", "place", METRES, 0, 2, "Metres above the ground plane."),
        _spec("position", "position", "place", METRES, -1, 1, "Where the particle is.", shape="vector"),
        _spec("distance", "distance to a point", "place", METRES, 0, 2, "Metres between the particle and a point you set."),
        _spec("noise", "noise", "place", PLAIN, -0.7, 0.7, "A smooth random field where the particle is, from -1 to 1; neighbours read alike."),
        _spec("speed", "speed", "motion", METRES_PER_SECOND, 0, 2, "How fast the particle moves."),
        _spec("velocity", "velocity", "motion", METRES_PER_SECOND, -1, 1, "Where and how fast the particle moves.", shape="vector"),
        _spec("mass", "mass", "motion", KILOGRAMS, 0, 2, "What the particle weighs.", changes=False),
        _spec("rotation", "rotation", "motion", DEGREES, 0, 2 * math.pi, "The angle the particle has turned to in the picture."),
        _spec("spin", "spin", "motion", DEGREES_PER_SECOND, -3, 3, "How fast the particle turns."),
        _spec("size", "size", "look", METRES, 0, 0.2, "The particle's own size at this moment."),
        _spec("opacity", "opacity", "look", PERCENT, 0, 1, "The particle's own opacity at this moment."),
        _spec("brightness", "brightness", "look", PLAIN, 0, 1, "How light the particle's colour is: luminance in linear light."),
        _spec("colour", "colour", "look", PLAIN, 0, 1, "A component of the particle's own colour.", shape="colour"),
        _spec("number", "number", "birth", PLAIN, 0, 100, "Which birth of its rate or burst this is. Repeat it to take turns.", changes=False),
        _spec("birth_frame", "birth frame", "birth", FRAMES, 0, 100, "The frame at which the particle was born.", changes=False),
        _spec("birth_position", "birth position", "birth", METRES, -1, 1, "Where the particle was born.", changes=False, shape="vector"),
        _spec("birth_normal", "birth normal", "birth", PLAIN, -1, 1, "Which way the surface faced where it was born; up where there is none.",
              changes=False, shape="vector"),
        _spec("birth_u", "birth u", "birth", PLAIN, 0, 1, "How far round the shape it was born, from 0 to 1.", changes=False),
        _spec("birth_v", "birth v", "birth", PLAIN, 0, 1, "How far out or up the shape it was born, from 0 to 1.", changes=False),
        _spec("draw", "draw", "draws", PLAIN, 0, 1, "A random value, given once at birth.", changes=False),
        _spec("own", "own attribute", "own", PLAIN, 0, 1, "What this emitter gives its particles besides."),
        _spec("row", "row", "rows", PLAIN, 0, 1, "What another row gives for the same particle, at this moment."),
    ]
}  # fmt: skip

# what stands after a source's own name, its unit and usual range, by kind and part
PARTED: dict[str, dict[str, tuple[str, Unit, float, float, bool, str]]] = {
    "mask": {
        "value": ("", PERCENT, 0, 1, True, "How much the particle is within the mask, as it stands now."),
        "latched": ("latched", PERCENT, 0, 1, True, "The most that the particle ever was within the mask: once touched, it stays in."),
        "since": ("since touched", SECONDS, 0, 1, True, "Seconds since the mask first held the particle by half; 0 before."),
    },
    "surface": {
        "distance": ("distance", METRES, 0, 1, True, "Metres to the nearest place of the prop; negative inside a closed mesh."),
        "u": ("nearest u", PLAIN, 0, 1, True, "The u of the nearest place of the prop."),
        "v": ("nearest v", PLAIN, 0, 1, True, "The v of the nearest place of the prop."),
    },
    "parent": {
        "age": ("age", SECONDS, 0, 2, False, "The parent's age at this particle's birth."),
        "life": ("life", PERCENT, 0, 1, False, "How much of its life the parent had behind it at this particle's birth."),
        "size": ("size", METRES, 0, 0.2, False, "The parent's size at this particle's birth."),
        "speed": ("speed", METRES_PER_SECOND, 0, 2, False, "The parent's speed at this particle's birth."),
        "opacity": ("opacity", PERCENT, 0, 1, False, "The parent's opacity at this particle's birth."),
    },
}  # fmt: skip
PARTS = {
    "vector": {"x": "x", "y": "y", "z": "z", "length": "length", "along": "along an axis"},
    "colour": {"red": "red", "green": "green", "blue": "blue"},
}


@dataclass(frozen=True)
class SourceFacts:
    """What a particular source of an emitter is: its name as shown, unit, usual range, and when it can be read."""

    label: str
    unit: Unit
    input: tuple[float, float]
    per_particle: bool
    changes: bool
    shape: str


def source_facts(scope: Scope, source: Any) -> SourceFacts:
    """Return the facts of a source; what it refers to must be there (a missing one is called so)."""
    emitter, spec = scope.emitter, SOURCES[source.kind]
    facts = SourceFacts(spec.label, spec.unit, spec.default_input, spec.per_particle, spec.changes, spec.shape)
    if source.kind == "draw":
        draw = next((draw for draw in emitter.draws if draw.uid == source.draw), None)
        return replace(facts, label="missing draw") if draw is None else replace(facts, label=draw.name, input=draw_range(draw))
    if source.kind == "dial":
        dial = next((dial for dial in scope.dials if dial.uid == source.dial), None)
        if dial is None:
            return replace(facts, label="missing dial")
        return replace(facts, label=dial.name, unit=DIAL_UNITS[dial.unit], input=(dial.low, dial.high))
    if source.kind == "prop":
        prop = next((prop for prop in scope.props if prop.uid == source.prop), None)
        return _part(replace(facts, label="missing prop" if prop is None else prop.name), source.part)
    if source.kind in PARTED or source.kind == "picture":
        return _parted(scope, source, facts)
    if source.kind == "formula":
        formula = scope.formula(source.text)
        if formula.result is None:
            return facts
        kind = "number" if formula.result.kind == "truth" else formula.result.kind
        unit = scope.unit(formula.result.unit)
        return replace(facts, unit=unit, per_particle=formula.per_particle, changes=formula.changes, shape=kind)
    if source.kind == "own":
        own = next((own for own in emitter.own if own.uid == source.own), None)
        if own is None:
            return replace(facts, label="missing attribute")
        return _part(replace(facts, label=own.name, unit=OWN_UNITS[getattr(own, "unit", "")], changes=own.memory, shape=own.kind), source.part)
    if source.kind == "row":
        placed = next((placed for placed in rows_of(emitter) if placed.address == source.row), None)
        if placed is None:
            return replace(facts, label="missing row")
        row = placed.spec
        facts = replace(facts, label=row_label(emitter, placed).lower(), unit=row.unit, per_particle=row.stage != "emitter",
                        changes=row.stage != "birth", shape=row.kind, input=(0, max(row.drag / 2, 1e-3)))  # fmt: skip
        return _part(facts, source.part)
    return _part(facts, getattr(source, "part", "whole"))


def _parted(scope: Scope, source: Any, facts: SourceFacts) -> SourceFacts:
    """Return the facts of a source of a mask, a prop's surface or picture, or the parent."""
    name = "parent"
    if source.kind != "parent":
        uid = source.mask if source.kind == "mask" else source.prop
        prop = next((prop for prop in scope.props if prop.uid == uid), None)
        name = f"missing {facts.label}" if prop is None else prop.name
    if source.kind == "picture" and source.at == "birth":
        name, facts = f"{name} at birth", replace(facts, changes=False)
    if source.part in PARTED.get(source.kind, {}):
        words, unit, low, high, changes, _ = PARTED[source.kind][source.part]
        return replace(facts, label=f"{name} {words}".strip(), unit=unit, input=(low, high), changes=changes, shape="number")
    facts = replace(facts, unit=PLAIN)
    return (
        replace(facts, label=f"{name} colour", shape="colour")
        if source.part == "whole"
        else replace(facts, label=f"{name} {source.part}", shape="number")
    )


def parts_of(kind: str) -> dict[str, str]:
    """Return the parts that a mask, a prop's surface or a parent can be read by, with help."""
    return {part: said[5] for part, said in PARTED[kind].items()}


def _part(facts: SourceFacts, part: str) -> SourceFacts:
    if part == "whole":
        return facts
    return replace(facts, label=f"{facts.label} {part}", shape="number")


def source_label(scope: Scope, source: Any) -> str:
    """Return the source's name as shown: a draw by its own name."""
    return source_facts(scope, source).label


def row_label(emitter: Any, placed: PlacedRow) -> str:
    """Return a row's name, with the name of the draw or own attribute that it belongs to."""
    head, _, rest = placed.address.partition(".")
    if head in ("draws", "own"):
        uid = rest.partition(".")[0]
        owner = next(thing for thing in getattr(emitter, head) if thing.uid == uid)
        return f"{owner.name}: {placed.spec.label.lower()}"
    return placed.spec.label


def draw_range(draw: Any) -> tuple[float, float]:
    """Return between which values a draw lies (a normal one for all but a few of a thousand), bounds taken at their bases."""
    base = {name: row.base if isinstance(row.base, float) else 0.0 for name, row in draw if hasattr(row, "base")}
    if draw.kind == "spread":
        return base["centre"] - base["spread"], base["centre"] + base["spread"]
    if draw.kind == "normal":
        reach = 3 * base["deviation"]
        low, high = base["mean"] - reach, base["mean"] + reach
        if draw.absolute:
            low, high = 0.0, max(abs(low), abs(high))
        return (max(low, base["lowest"]), min(high, base["highest"])) if draw.clamped else (low, high)
    if draw.kind == "choice":
        values = [option.value for option in draw.options]
        return min(values), max(values)
    return (-1.0, 1.0) if draw.kind == "sign" else (base["low"], base["high"])


def all_rows(scope: Scope) -> list[PlacedRow]:
    """Return all rows of an emitter, the settings of its responses and sources among them, and theirs in turn."""
    found: list[PlacedRow] = []
    waiting = list(rows_of(scope.emitter))
    while waiting:
        placed = waiting.pop()
        found.append(placed)
        if placed.depth <= 4:
            waiting.extend(settings_of(placed, lambda source: source_facts(scope, source).unit))
    return found


def row_at(scope: Scope, address: str) -> PlacedRow | None:
    """Return the row at an address, or None."""
    return next((placed for placed in all_rows(scope) if placed.address == address), None)
