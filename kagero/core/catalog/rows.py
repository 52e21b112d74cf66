"""Every row: one drivable setting of an emitter."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from ..effect import Emitter, Row

Band = Literal["births", "motion", "look", "endings"]
Stage = Literal["emitter", "birth", "live"]


@dataclass(frozen=True)
class Unit:
    """How a stored value is shown: shown = stored x scale, with this symbol and so many decimals."""

    symbol: str
    scale: float = 1.0
    digits: int = 2


METRES, METRES_PER_SECOND, ACCELERATION = Unit("m", 1, 3), Unit("m/s"), Unit("m/s²")
SECONDS, PER_SECOND, PERCENT, DEGREES, PLAIN = Unit("s"), Unit("/s"), Unit("%", 100, 0), Unit("°", 180 / math.pi, 0), Unit("", 1)


@dataclass(frozen=True)
class RowSpec:
    """One setting. `lowest`/`highest` bound base and result; `drag` is what a full drag across the field spans.

    stage: "emitter" (read as time goes, no particle), "birth" (once per particle), "live" (every step or frame).
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

    @property
    def components(self) -> int:
        return 1 if self.kind == "number" else 3


def _number(key: str, label: str, band: Band, stage: Stage, unit: Unit, lowest: float, highest: float, drag: float,
            default: float, help: str, always: bool = False) -> RowSpec:  # fmt: skip
    return RowSpec(key, label, band, "number", stage, unit, lowest, highest, drag, default, help, always)


def _vector(key: str, label: str, band: Band, stage: Stage, unit: Unit, reach: float, drag: float, default: Any, help: str) -> RowSpec:
    return RowSpec(key, label, band, "vector", stage, unit, -reach, reach, drag, default, help)


_ALL = [
    _number("births.rate", "Rate", "births", "emitter", PER_SECOND, 0, 1_000_000, 200, 60,
            "How many particles are born each second. Drive it from clip time to make it start, pulse and stop.", True),
    _vector("births.place.centre", "Centre", "births", "birth", METRES, 10_000, 4, (0.0, 0.0, 0.0),
            "Middle of the place where particles are born."),
    _number("births.place.radius", "Radius", "births", "birth", METRES, 0, 10_000, 2, 0.5,
            "How far from the centre particles are born."),
    _vector("births.place.size", "Box size", "births", "birth", METRES, 10_000, 4, (1.0, 1.0, 1.0),
            "Width, height and depth of the box in which particles are born."),
    _number("births.lifespan", "Lifespan", "births", "birth", SECONDS, 0.001, 100_000, 4, 2.0,
            "How long a particle lives, from birth to end. Vary it, so that not all end together.", True),
    _vector("births.launch.direction", "Launch direction", "births", "birth", PLAIN, 1_000, 2, (0.0, 1.0, 0.0),
            "Where particles set off to; only the direction counts, not the length."),
    _number("births.launch.cone", "Launch cone", "births", "birth", DEGREES, 0, math.pi, 1.5, 0.3,
            "Spread of directions: the angle from the launch direction to the cone's edge. 180° is every direction."),
    _number("births.launch.speed", "Launch speed", "births", "birth", METRES_PER_SECOND, 0, 10_000, 4, 0.5,
            "How fast particles set off."),
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
    _number("look.size", "Size", "look", "live", METRES, 0, 10_000, 0.4, 0.1,
            "Diameter of the drawn disc.", True),
    _number("look.opacity", "Opacity", "look", "live", PERCENT, 0, 1, 1, 1.0,
            "How much of what lies behind is covered, or how much light is added.", True),
    RowSpec("look.colour", "Colour", "look", "colour", "live", PLAIN, 0, 64, 1, (1.0, 0.6, 0.2),
            "Colour in linear light. Above 1 it is brighter than paper white.", True),
]  # fmt: skip

ROWS: dict[str, RowSpec] = {spec.key: spec for spec in _ALL}


@dataclass(frozen=True)
class PlacedRow:
    """A row where it stands in an emitter: `address` names it for good (a force by its uid), `spec` tells what it is."""

    address: str
    spec: RowSpec
    row: Row
    muted: bool = False


def rows_of(emitter: Emitter) -> Iterator[PlacedRow]:
    """Yield all rows of an emitter in working order."""
    births, place = emitter.births, emitter.births.place
    for name, row in [
        ("births.rate", births.rate),
        *((f"births.place.{field}", getattr(place, field)) for field in ("centre", "radius", "size") if hasattr(place, field)),
        ("births.lifespan", births.lifespan),
        ("births.launch.direction", births.launch.direction),
        ("births.launch.cone", births.launch.cone),
        ("births.launch.speed", births.launch.speed),
    ]:
        yield PlacedRow(name, ROWS[name], row)
    for force in emitter.forces:
        for key, spec in ROWS.items():
            kind, _, field = key.removeprefix("forces.").partition(".")
            if key.startswith("forces.") and kind == force.kind:
                yield PlacedRow(f"forces.{force.uid}.{field}", spec, getattr(force, field), force.muted)
    for field in ("size", "opacity", "colour"):
        yield PlacedRow(f"look.{field}", ROWS[f"look.{field}"], getattr(emitter.look, field))


def row_at(emitter: Emitter, address: str) -> PlacedRow | None:
    """Return the row at an address, or None."""
    return next((placed for placed in rows_of(emitter) if placed.address == address), None)
