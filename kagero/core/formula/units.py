"""Units of what a formula computes: powers of metre, second and kilogram. Angles and shares are plain numbers."""

from __future__ import annotations

from fractions import Fraction

# powers of (m, s, kg); None where units were mixed
Dimension = tuple[Fraction, Fraction, Fraction] | None


class Scaled(tuple[Fraction, Fraction, Fraction]):
    """A unit by which a number was multiplied: the number may well have brought a unit of its own, as 40 a metre."""


def _powers(m: int = 0, s: int = 0, kg: int = 0) -> Dimension:
    return (Fraction(m), Fraction(s), Fraction(kg))


PLAIN: Dimension = _powers()
# a number written in the formula takes on the unit of what it is added to or compared with
ANY: Dimension = (Fraction(-99), Fraction(-99), Fraction(-99))

_SYMBOLS: dict[str, Dimension] = {
    "": PLAIN,
    "%": PLAIN,
    "°": PLAIN,
    "f": PLAIN,
    "×": PLAIN,
    "m": _powers(1),
    "m/s": _powers(1, -1),
    "m/s²": _powers(1, -2),
    "s": _powers(0, 1),
    "/s": _powers(0, -1),
    "°/s": _powers(0, -1),
    "%/s": _powers(0, -1),
    "kg": _powers(0, 0, 1),
    "m²/s": _powers(2, -1),
    "°/s²": _powers(0, -2),
    "s/s": PLAIN,
    "m²": _powers(2),
}
_RAISED = str.maketrans("0123456789-/", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻ᐟ")


def dimension_of(symbol: str) -> Dimension:
    """Return the dimension of a unit as the catalog writes it; unknown ones count as mixed."""
    return _SYMBOLS.get(symbol)


def dimension_text(dimension: Dimension) -> str:
    """Return a dimension as it is read: m/s², /s, kg m; empty for a plain number and where it is not known."""
    if dimension is None or dimension in (ANY, PLAIN):
        return ""
    over = [
        _power(name, p)
        for name, p in zip(("kg", "m", "s"), (dimension[2], dimension[0], dimension[1]), strict=True)
        if p > 0
    ]
    under = [
        _power(name, -p)
        for name, p in zip(("kg", "m", "s"), (dimension[2], dimension[0], dimension[1]), strict=True)
        if p < 0
    ]
    return " ".join(over) + ("/" + " ".join(under) if under else "")


def _power(name: str, power: Fraction) -> str:
    return name if power == 1 else name + str(power).translate(_RAISED)


def same(*dimensions: Dimension) -> tuple[Dimension, bool]:
    """Return the one dimension of values that are added or compared, and whether they agree."""
    known = [d for d in dimensions if d != ANY]
    if not known:
        return ANY, True
    if None in known:
        return None, True
    sure = {d for d in known if not isinstance(d, Scaled)}
    if len(sure) > 1:
        return None, False
    if sure:
        return sure.pop(), True
    return (known[0], True) if len(set(known)) == 1 else (None, True)


def times(a: Dimension, b: Dimension, power: int = 1) -> Dimension:
    """Return the dimension of a b, or of a / b for power -1."""
    if a == ANY and b == ANY:
        return ANY
    scaled = ANY in (a, b) or isinstance(a, Scaled) or isinstance(b, Scaled)
    a, b = (PLAIN if d == ANY else d for d in (a, b))
    if a is None or b is None:
        return None
    powers = (a[0] + b[0] * power, a[1] + b[1] * power, a[2] + b[2] * power)
    return Scaled(powers) if scaled else powers


def to_power(a: Dimension, power: float | None) -> Dimension:
    """Return the dimension of a to a power; an unknown power only leaves a plain number plain."""
    if a in (ANY, PLAIN) or a is None:
        return a
    if power is None or abs(power) > 16:
        return None
    exact = Fraction(power).limit_denominator(12)
    return (a[0] * exact, a[1] * exact, a[2] * exact)
