"""Colours shifted in hue, saturation and lightness.

HSL is that of CSS Color Module Level 4, section 7: of sRGB-encoded components (IEC 61966-2-1). What is brighter than
paper white keeps its brightness: it is shifted as the colour of its brightest component at white.
"""

from __future__ import annotations

import math

from ...formula import Values
from ...program import Builder


def shifted(b: Builder, colour: Values, hue: int, saturation: int, lightness: int) -> Values:
    """Return a linear-light colour, its hue turned by `hue` radians, its saturation times 1 + `saturation`, its
    lightness plus `lightness`."""
    one, none = b.const(1), b.const(0)
    c = [b.op("max", part, none) for part in colour]
    bright = b.op("max", _most(b, c), one)
    r, g, bl = encoded = [_encode(b, b.op("div", part, bright)) for part in c]
    high, low = _most(b, encoded), b.op("min", b.op("min", r, g), bl)
    light, span = b.op("mul", b.op("add", high, low), b.const(0.5)), b.op("sub", high, low)
    safe = b.op("max", span, b.const(1e-9))
    pure = b.op("div", span, b.op("max", _within(b, light), b.const(1e-9)))
    pure = b.op("mul", pure, b.const(0.5))  # high - low is twice high - light
    sextants = [
        b.op("add", b.op("div", b.op("sub", x, y), safe), b.const(at))
        for x, y, at in ((g, bl, 0), (bl, r, 2), (r, g, 4))
    ]
    turn = b.op(
        "select", b.op("equal", high, r), sextants[0], b.op("select", b.op("equal", high, g), sextants[1], sextants[2])
    )
    turn = b.op("repeat", b.op("add", b.op("mul", turn, b.const(1 / 6)), b.op("mul", hue, b.const(0.5 / math.pi))))
    pure = b.op("clamp", b.op("mul", pure, b.op("add", one, saturation)))
    light = b.op("clamp", b.op("add", light, lightness))
    reach = b.op("mul", pure, _within(b, light))
    columns = []
    for n in (0, 8, 4):
        k = b.op("mul", b.op("repeat", b.op("add", turn, b.const(n / 12))), b.const(12))
        edge = b.op("min", b.op("min", b.op("sub", k, b.const(3)), b.op("sub", b.const(9), k)), one)
        part = b.op("sub", light, b.op("mul", reach, b.op("max", edge, b.const(-1))))
        columns.append(b.op("mul", _decode(b, part), bright))
    return tuple(columns)


def _most(b: Builder, parts: list[int]) -> int:
    return b.op("max", b.op("max", parts[0], parts[1]), parts[2])


def _within(b: Builder, light: int) -> int:
    return b.op("min", light, b.op("sub", b.const(1), light))


def _encode(b: Builder, x: int) -> int:
    root = b.op("pow", b.op("max", x, b.const(1e-6)), b.const(1 / 2.4))
    return b.op(
        "select",
        b.op("less_equal", x, b.const(0.0031308)),
        b.op("mul", x, b.const(12.92)),
        b.op("sub", b.op("mul", root, b.const(1.055)), b.const(0.055)),
    )


def _decode(b: Builder, x: int) -> int:
    raised = b.op(
        "pow", b.op("mul", b.op("add", b.op("max", x, b.const(0)), b.const(0.055)), b.const(1 / 1.055)), b.const(2.4)
    )
    return b.op("select", b.op("less_equal", x, b.const(0.04045)), b.op("mul", x, b.const(1 / 12.92)), raised)
