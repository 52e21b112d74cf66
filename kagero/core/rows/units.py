"""Units: how stored values are shown. Values are stored in SI units, angles in radians, shares from 0 to 1."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Unit:
    """How a stored value is shown: shown = stored x scale, with a symbol and a number of decimals."""

    symbol: str
    scale: float = 1.0
    digits: int = 2


METRES, METRES_PER_SECOND, ACCELERATION = Unit("m", 1, 3), Unit("m/s"), Unit("m/s²")
PER_METRE, PER_SECOND_SQUARED, PER_CUBIC_METRE = Unit("/m", 1, 3), Unit("/s²"), Unit("/m³", 1, 0)
SECONDS = Unit("s")
PER_SECOND = Unit("/s")
PERCENT = Unit("%", 100, 0)
DEGREES = Unit("°", 180 / math.pi, 0)
PLAIN = Unit("", 1)
DEGREES_PER_SECOND_SQUARED = Unit("°/s²", 180 / math.pi, 0)
KILOGRAMS = Unit("kg")
DEGREES_PER_SECOND = Unit("°/s", 180 / math.pi, 0)
FRAMES = Unit("f", 1, 1)
SQUARE_METRES_PER_SECOND = Unit("m²/s")
FACTOR, PIXELS, STOPS, KELVIN = Unit("×"), Unit("px", 1, 1), Unit("stops"), Unit("K", 1, 0)
DIAL_UNITS = {
    "": PLAIN,
    "×": FACTOR,
    "m": METRES,
    "m/s": METRES_PER_SECOND,
    "m/s²": ACCELERATION,
    "m²/s": SQUARE_METRES_PER_SECOND,
    "s": SECONDS,
    "/s": PER_SECOND,
    "%": PERCENT,
    "°": DEGREES,
    "°/s": DEGREES_PER_SECOND,
    "kg": KILOGRAMS,
    "f": FRAMES,
}
OWN_UNITS = {"": PLAIN, "m": METRES, "m/s": METRES_PER_SECOND, "s": SECONDS, "%": PERCENT, "°": DEGREES}


def si_symbol(unit: Unit) -> str:
    """Return the unit in which formulas see a value: as stored, not as shown."""
    return {"%": "", "°": "rad", "°/s": "rad/s", "°/s²": "rad/s²", "×": ""}.get(unit.symbol, unit.symbol)
