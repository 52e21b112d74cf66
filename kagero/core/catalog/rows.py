"""Every row: one drivable setting, and where the rows of an emitter stand."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Literal

from ..effect import BOUNDS, Emitter, MaskProp, NumberRow, PropBase, Row, SourcedBase, row_of
from ..effect.rows import CurveResponse, RatioResponse

Band = Literal["props", "births", "motion", "look", "endings", "draws", "own"]
Stage = Literal["emitter", "birth", "live"]


@dataclass(frozen=True)
class Unit:
    """How a stored value is shown: shown = stored x scale, with this symbol and so many decimals."""

    symbol: str
    scale: float = 1.0
    digits: int = 2


METRES, METRES_PER_SECOND, ACCELERATION = Unit("m", 1, 3), Unit("m/s"), Unit("m/s²")
SECONDS, PER_SECOND, PERCENT, DEGREES, PLAIN = Unit("s"), Unit("/s"), Unit("%", 100, 0), Unit("°", 180 / math.pi, 0), Unit("", 1)
KILOGRAMS, DEGREES_PER_SECOND, FRAMES, SQUARE_METRES_PER_SECOND = Unit("kg"), Unit("°/s", 180 / math.pi, 0), Unit("f", 1, 1), Unit("m²/s")
DIAL_UNITS = {
    "": PLAIN, "×": Unit("×"), "m": METRES, "m/s": METRES_PER_SECOND, "m/s²": ACCELERATION, "m²/s": SQUARE_METRES_PER_SECOND, "s": SECONDS,
    "/s": PER_SECOND, "%": PERCENT, "°": DEGREES, "°/s": DEGREES_PER_SECOND, "kg": KILOGRAMS, "f": FRAMES,
}  # fmt: skip
OWN_UNITS = {"": PLAIN, "m": METRES, "m/s": METRES_PER_SECOND, "s": SECONDS, "%": PERCENT, "°": DEGREES}


@dataclass(frozen=True)
class RowSpec:
    """One setting. `lowest`/`highest` bound base and result; `drag` is what a full drag across the field spans.

    stage: "emitter" (read as time goes, no particle), "birth" (once per particle), "live" (every step or frame).
    family: the row whose place in the order of a birth this one shares; a response's own settings share their row's.
    always: shown in the sheet also while it does nothing.
    """

    key: str
    label: str
    band: Band
    kind: Literal["number", "vector", "colour"]
    stage: Stage
    unit: Unit
    lowest: float
    highest: float
    drag: float
    default: Any
    help: str
    always: bool = False
    family: str = ""

    @property
    def components(self) -> int:
        return 1 if self.kind == "number" else 3


def _number(key: str, label: str, band: Band, stage: Stage, unit: Unit, lowest: float, highest: float, drag: float,
            default: float, help: str, always: bool = False) -> RowSpec:  # fmt: skip
    return RowSpec(key, label, band, "number", stage, unit, lowest, highest, drag, default, help, always, key)


def _vector(key: str, label: str, band: Band, stage: Stage, unit: Unit, reach: float, drag: float, default: Any, help: str,
            always: bool = False) -> RowSpec:  # fmt: skip
    return RowSpec(key, label, band, "vector", stage, unit, -reach, reach, drag, default, help, always, key)


_ALL = [
    _number("births.rate", "Rate", "births", "emitter", PER_SECOND, 0, 1_000_000, 200, 60,
            "How many particles are born each second. Drive it from clip time to make it start, pulse and stop.", True),
    _vector("births.place.centre", "Centre", "births", "birth", METRES, 10_000, 4, (0.0, 0.0, 0.0),
            "Middle of the place where particles are born."),
    _number("births.place.radius", "Radius", "births", "birth", METRES, 0, 10_000, 2, 0.5,
            "How far from the centre particles are born."),
    _vector("births.place.size", "Box size", "births", "birth", METRES, 10_000, 4, (1.0, 1.0, 1.0),
            "Width, height and depth of the box in which particles are born."),
    _number("births.place.offset", "Offset", "births", "birth", METRES, -10_000, 10_000, 1, 0.0,
            "How far above the surface particles are born, along its normal; negative is below."),
    _number("births.place.inherit_size", "Size from parent", "births", "birth", PERCENT, 0, 10, 2, 0.0,
            "How much of the parent's size, as it was at this birth, goes into the particle's own."),
    _number("births.place.inherit_colour", "Colour from parent", "births", "birth", PERCENT, 0, 1, 1, 0.0,
            "How much of the parent's colour, as it was at this birth, takes the place of the particle's own."),
    _number("births.keep", "Kept births", "births", "birth", PERCENT, 0, 1, 1, 1.0,
            "The share of births that come to be, judged where each would be born: by a mask, noise, a picture, a condition."),
    _number("births.begins", "Begins at", "births", "birth", PERCENT, 0, 1, 1, 0.0,
            "When each birth happens, as a share of the emitter's duration: from a picture's brightness, darkest first; from a place; from a draw."),
    _number("births.lifespan", "Lifespan", "births", "birth", SECONDS, 0.001, 100_000, 4, 2.0,
            "How long a particle lives, from birth to end. Vary it, so that not all end together.", True),
    _vector("births.launch.direction", "Launch direction", "births", "birth", PLAIN, 1_000, 2, (0.0, 1.0, 0.0),
            "Where particles set off to; only the direction counts, not the length."),
    _number("births.launch.cone", "Launch cone", "births", "birth", DEGREES, 0, math.pi, 1.5, 0.3,
            "Spread of directions: the angle from the launch direction to the cone's edge. 180° is every direction."),
    _vector("births.launch.origin", "Launch origin", "births", "birth", METRES, 10_000, 4, (0.0, 0.0, 0.0),
            "The point that particles are launched away from."),
    _number("births.launch.multiplier", "Guide multiplier", "births", "birth", PER_SECOND, -10_000, 10_000, 4, 1.0,
            "Speed for each metre between the particle and the guide mesh, in the direction it is launched."),
    _number("births.launch.offset", "Guide offset", "births", "birth", METRES_PER_SECOND, -10_000, 10_000, 4, 0.0,
            "Added to the speed that the guide gives; the speed is never below nought. Negative: only the parts the guide bulges toward fly."),
    _number("births.launch.inherit", "Motion inherited", "births", "birth", PERCENT, -100, 100, 2, 0.0,
            "How much of the velocity of the place they are born at particles take on; negative is against it."),
    _number("births.launch.speed", "Launch speed", "births", "birth", METRES_PER_SECOND, 0, 10_000, 4, 0.5,
            "How fast particles set off.", True),
    _number("births.mass", "Mass", "births", "birth", KILOGRAMS, 0.000001, 1_000_000, 4, 1.0,
            "How much a particle resists wind, drag and noise; at 1 kg they act as they say. Gravity pulls all alike."),
    _number("births.rotation", "Rotation", "births", "birth", DEGREES, -10_000, 10_000, 6, 0.0,
            "The angle, in the picture, at which a particle is born. It shows on particles that are not round."),
    _number("forces.gravity.strength", "Gravity", "motion", "live", ACCELERATION, -10_000, 10_000, 10, 9.81,
            "Pull straight down. 9.81 m/s² is the Earth's; negative pulls up."),
    _number("forces.buoyancy.strength", "Buoyancy", "motion", "live", ACCELERATION, -10_000, 10_000, 4, 0.6,
            "Lift straight up, as warm air lifts embers."),
    _vector("forces.wind.velocity", "Wind", "motion", "live", METRES_PER_SECOND, 10_000, 4, (1.0, 0.0, 0.0),
            "Velocity of the moving air."),
    _number("forces.wind.coupling", "Wind coupling", "motion", "live", PER_SECOND, 0, 10_000, 4, 0.5,
            "How quickly a particle takes on the wind's velocity; 1 /s closes 63 % of the difference each second."),
    _number("forces.drag.rate", "Drag", "motion", "live", PER_SECOND, 0, 10_000, 4, 0.8,
            "How quickly still air slows a particle; 1 /s takes 63 % of its speed each second."),
    _number("forces.curl_noise.strength", "Curl noise", "motion", "live", ACCELERATION, -10_000, 10_000, 4, 0.9,
            "Swirling push that never bunches particles up."),
    _number("forces.curl_noise.scale", "Curl noise scale", "motion", "live", METRES, 0.001, 10_000, 2, 0.5,
            "Size of the swirls."),
    _number("forces.curl_noise.drift", "Curl noise drift", "motion", "live", METRES_PER_SECOND, 0, 10_000, 1, 0.2,
            "How fast the swirls change; 0 freezes them."),
    _number("motion.spin", "Spin", "motion", "live", DEGREES_PER_SECOND, -10_000, 10_000, 12, 0.0,
            "How fast a particle turns in the picture. It shows on particles that are not round."),
    _number("motion.grip", "Grip", "motion", "live", PER_SECOND, 0, 1_000, 20, 0.0,
            "How firmly a particle is held to the place of the prop where it was born; at 1000 /s it sits exactly there, at 0 it flies."),
    _number("thinning.outer", "Thinned out at", "look", "emitter", METRES, 0, 100_000, 20, 10.0,
            "From this distance on nobody is shown."),
    _number("thinning.inner", "All shown within", "look", "emitter", PERCENT, 0, 1, 1, 0.5,
            "The share of that distance within which everybody is shown; at 100 % the edge is hard."),
    _number("thinning.margin", "View margin", "look", "emitter", PERCENT, 0, 10, 1, 0.1,
            "How far outside the view particles are still shown, in shares of its height."),
    _number("look.size", "Size", "look", "live", METRES, 0, 10_000, 0.4, 0.1,
            "Diameter of the drawn disc, along its longest.", True),
    _number("look.stretch", "Stretch", "look", "live", PLAIN, 1, 100, 4, 1.0,
            "How many times longer than wide a particle is drawn; 1 is round."),
    _number("look.opacity", "Opacity", "look", "live", PERCENT, 0, 1, 1, 1.0,
            "How much of what lies behind is covered, or how much light is added.", True),
    RowSpec("look.colour", "Colour", "look", "colour", "live", PLAIN, 0, 64, 1, (1.0, 0.6, 0.2),
            "Colour in linear light. Above 1 it is brighter than paper white.", True, "look.colour"),
]  # fmt: skip

ROWS: dict[str, RowSpec] = {spec.key: spec for spec in _ALL}

# the rows of a prop: they belong to the clip, and no particle exists where they are read
PROP_ROWS: dict[str, RowSpec] = {
    spec.key.removeprefix("props."): spec
    for spec in [
        _vector("props.position", "Position", "props", "emitter", METRES, 100_000, 2, (0.0, 0.0, 0.0),
                "Where the prop stands; of one that follows another, from there.", True),
        _vector("props.rotation", "Rotation", "props", "emitter", DEGREES, 1_000_000, 3, (0.0, 0.0, 0.0),
                "Turned about y first, then tilted about x, then rolled about z.", True),
        _vector("props.scale", "Scale", "props", "emitter", PLAIN, 10_000, 2, (1.0, 1.0, 1.0), "How many times larger, along its own axes.", True),
        _number("props.field_of_view", "Field of view", "props", "emitter", DEGREES, 0.02, 2.8, 1, 0.7,
                "How much a camera sees, from top to bottom.", True),
        _number("props.radius", "Radius", "props", "emitter", METRES, 0, 10_000, 2, 0.5,
                "How far the mask reaches; of a mesh, how much it is grown.", True),
        _vector("props.size", "Size", "props", "emitter", METRES, 10_000, 2, (1.0, 1.0, 1.0), "Width, height and depth.", True),
        _number("props.falloff", "Falloff", "props", "emitter", METRES, 0, 10_000, 1, 0.0,
                "Over how many metres outward the mask goes from 1 to 0; 0 is a sharp edge.", True),
        _number("props.level", "Level", "props", "emitter", PLAIN, -1_000, 1_000, 1, 0.5, "The value at which the mask is one half.", True),
        _number("props.softness", "Softness", "props", "emitter", PLAIN, 0, 1_000, 1, 1.0,
                "Between how much below and above the level the mask goes from 0 to 1; 0 is a sharp edge.", True),
        _number("props.amplitude", "Amplitude", "props", "emitter", PLAIN, 0, 1_000, 1, 1.0, "What the noise, from -1 to 1, is multiplied by.", True),
        _number("props.edge", "Broken edge", "props", "emitter", METRES, 0, 10_000, 0.5, 0.0,
                "By how many metres noise moves the mask's edge in and out.", True),
        _number("props.noise_scale", "Noise scale", "props", "emitter", METRES, 0.001, 10_000, 2, 0.5, "Size of the noise's features.", True),
        _number("props.noise_drift", "Noise drift", "props", "emitter", METRES_PER_SECOND, 0, 10_000, 1, 0.0,
                "How fast the noise changes; 0 freezes it.", True),
    ]
}  # fmt: skip
_PLACED = ("position", "rotation", "scale")
_EDGED = ("falloff", "edge", "noise_scale", "noise_drift")
# the rows of a mask, by what it is
MASK_ROWS: dict[str, tuple[str, ...]] = {
    "sphere": (*_PLACED, "radius", *_EDGED),
    "box": (*_PLACED, "size", *_EDGED),
    "slab": (*_PLACED, "size", *_EDGED),
    "plane": (*_PLACED, *_EDGED),
    "cylinder": (*_PLACED, "radius", "size", *_EDGED),
    "mesh": ("radius", *_EDGED),
    "distance": ("radius", *_EDGED),
    "picture": ("level", "softness"),
    "noise": ("level", "softness", "amplitude", "noise_scale", "noise_drift"),
    "formula": ("level", "softness"),
    "union": (), "intersection": (), "difference": (),
}  # fmt: skip

_BIG = 1e9


def _bound(name: str, label: str, default: float, help: str, lowest: float = -_BIG, highest: float = _BIG) -> RowSpec:
    return _number(f"draws.{name}", label, "draws", "birth", PLAIN, lowest, highest, 2, default, help)


DRAW_ROWS: dict[str, RowSpec] = {
    spec.key.removeprefix("draws."): spec
    for spec in [
        _bound("low", "Lowest", 0, "The smallest value drawn."),
        _bound("high", "Highest", 1, "The largest value drawn."),
        _bound("centre", "Centre", 0, "The middle of the values drawn."),
        _bound("spread", "Spread", 1, "How far from the centre values reach, to both sides."),
        _bound("mean", "Mean", 0, "The middle of the values drawn."),
        _bound("deviation", "Deviation", 1, "The standard deviation: two thirds of all values lie this near to the mean.", 0),
        _bound("lowest", "Not below", -1, "Values below are raised to this."),
        _bound("highest", "Not above", 1, "Values above are lowered to this."),
        _bound("chance", "Chance of +1", 0.5, "The share of particles that get +1; the others get -1.", 0, 1),
    ]
}
OWN_ROWS: dict[str, RowSpec] = {
    "start": _number("own.start", "At birth", "own", "birth", PLAIN, -_BIG, _BIG, 2, 0, "The value a particle is born with."),
    "change": _number("own.change", "Change", "own", "live", PLAIN, -_BIG, _BIG, 2, 0, "How much is added each second."),
    "lowest": _number("own.lowest", "Not below", "own", "live", PLAIN, -_BIG, _BIG, 2, 0, "The value never falls below this."),
    "highest": _number("own.highest", "Not above", "own", "live", PLAIN, -_BIG, _BIG, 2, 1, "The value never rises above this: a ceiling."),
}


def _setting(name: str, label: str, unit: Unit, lowest: float, highest: float, drag: float, default: float, help: str) -> RowSpec:
    return _number(f"settings.{name}", label, "look", "live", unit, lowest, highest, drag, default, help)


# the settings of a response or source that are rows themselves, by name
SETTINGS: dict[str, RowSpec] = {
    spec.key.removeprefix("settings."): spec
    for spec in [
        _setting("amount", "Amount", PERCENT, 0, 1, 1, 1, "Share of the operation's effect."),
        _setting("shift", "Shift", PERCENT, -100, 100, 1, 0, "Moves the curve along the input, in shares of its range."),
        _setting("exponent", "Exponent", PLAIN, -16, 16, 3, 1, "Power of the curve's height: above 1 holds it down, below 1 lifts it."),
        _setting("low", "To low", PLAIN, -_BIG, _BIG, 1, 0, "What the curve's bottom gives."),
        _setting("high", "To high", PLAIN, -_BIG, _BIG, 1, 1, "What the curve's top gives."),
        _setting("reference", "Relative to", PLAIN, -_BIG, _BIG, 1, 1, "The source's value at which nothing changes."),
        _setting("power", "Power", PLAIN, -16, 16, 3, 1, "1 is in proportion, -1 in inverse proportion, 2 with the square."),
        _setting("scale", "Noise scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the noise's features."),
        _setting("drift", "Noise drift", METRES_PER_SECOND, 0, 10_000, 1, 0.2, "How fast the noise changes; 0 freezes it."),
        _vector("settings.point", "Point", "look", "live", METRES, 10_000, 4, (0.0, 0.0, 0.0), "Where the distance is measured from."),
    ]
}
MOST_NESTED = 3  # a response's setting may be driven by a response whose setting is driven ... so deep


@dataclass(frozen=True)
class PlacedRow:
    """A row where it stands in an emitter: `address` names it for good (a force by its uid), `spec` tells what it is.

    path: where it stands in the emitter's document. depth: 0 for rows of the sheet, 1 for settings of their responses...
    """

    address: str
    spec: RowSpec
    row: Row
    path: str
    muted: bool = False
    depth: int = 0
    host: str = ""


def rows_of(emitter: Emitter | PropBase) -> Iterator[PlacedRow]:
    """Yield the rows of an emitter's sheet, or of a prop's, in working order, without the settings of responses."""
    if isinstance(emitter, PropBase):
        fields = MASK_ROWS[emitter.shape] if isinstance(emitter, MaskProp) else (*_PLACED, "field_of_view")
        for field, spec in PROP_ROWS.items():
            if field in fields and hasattr(emitter, field):
                yield PlacedRow(f"place.{field}", spec, getattr(emitter, field), field)
        return
    births, place, launch = emitter.births, emitter.births.place, emitter.births.launch
    guided, moving = launch.aim == "guided", place.kind in ("prop", "particles")
    for name, row, unused in [
        ("births.rate", births.rate, False),
        *(
            (f"births.place.{field}", getattr(place, field), False)
            for field in ("centre", "radius", "size", "offset", "inherit_size", "inherit_colour")
            if hasattr(place, field)
        ),
        ("births.keep", births.keep, False),
        ("births.begins", births.begins, births.when == "rate" or place.kind == "particles"),
        ("births.lifespan", births.lifespan, False),
        ("births.launch.direction", launch.direction, launch.aim != "direction"),
        ("births.launch.cone", launch.cone, False),
        ("births.launch.speed", launch.speed, guided),
        ("births.launch.origin", launch.origin, launch.aim not in ("away", "guided")),
        ("births.launch.multiplier", launch.multiplier, not guided),
        ("births.launch.offset", launch.offset, not guided),
        ("births.launch.inherit", launch.inherit, not moving),
        ("births.mass", births.mass, False),
        ("births.rotation", births.rotation, False),
    ]:
        yield PlacedRow(name, ROWS[name], row, name, unused)
    for index, force in enumerate(emitter.forces):
        for key, spec in ROWS.items():
            kind, _, field = key.removeprefix("forces.").partition(".")
            if key.startswith("forces.") and kind == force.kind:
                yield PlacedRow(f"forces.{force.uid}.{field}", spec, getattr(force, field), f"forces.{index}.{field}", force.muted)
    yield PlacedRow("motion.spin", ROWS["motion.spin"], emitter.motion.spin, "motion.spin")
    yield PlacedRow("motion.grip", ROWS["motion.grip"], emitter.motion.grip, "motion.grip", place.kind != "prop")
    for field in ("size", "stretch", "opacity", "colour"):
        yield PlacedRow(f"look.{field}", ROWS[f"look.{field}"], getattr(emitter.look, field), f"look.{field}")
    if emitter.thinning is not None:
        for field in ("outer", "inner", "margin"):
            unused = field == "margin" and not emitter.thinning.view
            yield PlacedRow(f"thinning.{field}", ROWS[f"thinning.{field}"], getattr(emitter.thinning, field), f"thinning.{field}", unused)
    for index, draw in enumerate(emitter.draws):
        for field in BOUNDS[draw.kind]:
            unused = draw.kind == "normal" and field in ("lowest", "highest") and not draw.clamped
            spec = replace(DRAW_ROWS[field], family=f"draws.{draw.uid}")
            yield PlacedRow(f"draws.{draw.uid}.{field}", spec, getattr(draw, field), f"draws.{index}.{field}", unused)
    for index, own in enumerate(emitter.own):
        for field in OWN_ROWS:
            unused = (field == "change" and not own.memory) or (field in ("lowest", "highest") and not own.held)
            yield PlacedRow(f"own.{own.uid}.{field}", own_spec(own, field), getattr(own, field), f"own.{index}.{field}", unused)


def own_spec(own: Any, field: str) -> RowSpec:
    """Return what a row of an own attribute is: its kind and unit are the attribute's."""
    spec = OWN_ROWS[field]
    kind: Literal["number", "vector", "colour"] = "number" if field in ("lowest", "highest") else own.kind
    unit = OWN_UNITS[getattr(own, "unit", "")]
    if field == "change":
        kind = "vector" if own.kind == "colour" else kind
        unit = replace(unit, symbol=f"{unit.symbol}/s" if unit.symbol != "m/s" else "m/s²")
    default = {"number": spec.default, "vector": (0.0, 0.0, 0.0), "colour": (1.0, 1.0, 1.0)}[kind]
    lowest, highest = (0, 64) if kind == "colour" else (spec.lowest, spec.highest)
    return replace(spec, kind=kind, unit=unit, default=default, lowest=lowest, highest=highest, family=f"own.{own.uid}.{field}")


def settings_of(placed: PlacedRow, units: Any) -> Iterator[PlacedRow]:
    """Yield the settings of a row's responses and sources as rows, not theirs in turn.

    units: a function from a source to its unit.
    """
    row, spec = placed.row, placed.spec
    if isinstance(row.base, SourcedBase):
        yield from _source_settings(placed, row.base.source, f"{placed.path}.base.source", placed.muted)
    for index, response in enumerate(row.responses):
        path = f"{placed.path}.responses.{index}"
        muted = placed.muted or row.muted or response.muted
        names: list[tuple[str, Any, str]] = [("amount", response.amount, f"{path}.amount")]
        if isinstance(response, CurveResponse):
            names += [("exponent", response.exponent, f"{path}.exponent"),
                      ("low", response.output[0], f"{path}.output.0"), ("high", response.output[1], f"{path}.output.1")]  # fmt: skip
        if isinstance(response, RatioResponse):
            names += [("reference", response.reference, f"{path}.reference"), ("power", response.power, f"{path}.power")]
        else:
            names.append(("shift", response.shift, f"{path}.shift"))
        for name, setting, where in names:
            unit, drag = None, None
            if name in ("low", "high") and response.operation != "multiply":
                unit, drag = spec.unit, spec.drag
            elif name == "reference":
                unit = units(response.source)
            yield _placed_setting(placed, f"responses.{response.uid}.{name}", name, setting, where, muted, unit, drag)
        yield from _source_settings(placed, response.source, f"{path}.source", muted)


def _source_settings(placed: PlacedRow, source: Any, path: str, muted: bool) -> Iterator[PlacedRow]:
    names = {"noise": ("scale", "drift"), "distance": ("point",)}.get(source.kind, ())
    for name in names:
        yield _placed_setting(placed, f"sources.{source.uid}.{name}", name, getattr(source, name), f"{path}.{name}", muted)


def _placed_setting(placed: PlacedRow, address: str, name: str, setting: Any, path: str, muted: bool,
                    unit: Unit | None = None, drag: float | None = None) -> PlacedRow:  # fmt: skip
    host = placed.spec
    spec = _setting_spec(name, host.stage, host.band, host.family, unit, drag)
    return PlacedRow(address, spec, row_of(setting), path, muted, placed.depth + 1, placed.host or placed.address)


@lru_cache(maxsize=4096)
def _setting_spec(name: str, stage: Stage, band: Band, family: str, unit: Unit | None, drag: float | None) -> RowSpec:
    spec = SETTINGS[name]
    return replace(spec, stage=stage, band=band, family=family, unit=unit or spec.unit, drag=drag or spec.drag)


def in_use(placed: PlacedRow) -> bool:
    """Return whether a row differs from doing nothing: its base is not the default, or something drives it."""
    row, default = placed.row, placed.spec.default
    return bool(row.responses) or isinstance(row.base, SourcedBase) or row.base != default


def is_plain(row: Row) -> bool:
    """Return whether a row is one number for all particles."""
    return isinstance(row, NumberRow) and not row.responses and not isinstance(row.base, SourcedBase)
