"""A mask -> plan operations: its value, 0..1, at any point and time. Masks read the clip, dials and props, and no particle.

The distance to the edge is in metres of the world, negative within; the mask goes from 1 at the edge to 0 at the end of the
falloff outward. Joined masks are as Zadeh, "Fuzzy sets", 1965, has them: union is the larger, intersection the smaller, difference
the smaller of one and what the other leaves.
"""

from __future__ import annotations

from typing import Any, Protocol

import numpy as np

from ..catalog import field_formula
from ..effect import Effect
from ..program import Builder, Slot
from .formulas import Values, Writer
from .slots import MaskCurve, OfProp, table_of

LUMINANCE = (0.2126, 0.7152, 0.0722)  # of linear sRGB: ITU-R BT.709


class SpaceReader(Protocol):
    """Where something over space is written: a program, the effect, and the rows of the effect's props."""

    builder: Builder
    effect: Effect

    def prop_row(self, uid: str, name: str, time: int) -> Values:
        """Return a row of a prop at a time."""

    def at(self, point: Values, time: int) -> Any:
        """Return the reader of a formula over space, at a point and time."""

    def effect_seed(self, name: str) -> Slot[Any]:
        """Return the seed that belongs to a name of the effect."""


def matrix(b: Builder, uid: str, time: int) -> Values:
    """Return where a prop stands: twelve values, three rows of four; of all that it follows too."""
    return b.multi("prop_matrix", time, attrs=(OfProp(uid),))


def sample(b: Builder, uid: str, point: Values, time: int) -> Values:
    """Return distance, u, v, red, green, blue, alpha of the nearest place of a prop."""
    return b.multi("prop_sample", *point, time, attrs=(OfProp(uid),))


def weighted(b: Builder, values: Values, weights: Values) -> int:
    """Return the sum of three values, each times its weight."""
    x, y, z = (b.op("mul", v, w) for v, w in zip(values, weights, strict=True))
    return b.op("add", b.op("add", x, y), z)


def luminance(b: Builder, colour: Values) -> int:
    """Return the luminance of red, green, blue in linear light."""
    return weighted(b, colour, tuple(b.const(w) for w in LUMINANCE))


def channel(b: Builder, colour: Values, name: str) -> int:
    """Return one value of red, green, blue, alpha: a component, or the luminance in linear light."""
    if name == "luminance":
        return luminance(b, colour[:3])
    return colour[("red", "green", "blue", "alpha").index(name)]


def mask_value(reader: SpaceReader, uid: str, point: Values, time: int) -> int:
    """Return a mask's value at a point: compiled once for each point and time of a program, however many masks name it."""
    known, written = ("mask", uid, point, time), reader.builder.written
    if known not in written:
        mask = next(prop for prop in reader.effect.props if prop.uid == uid)
        written[known] = _Mask(reader, mask, point, time).value()
    return written[known]


class _Mask:
    def __init__(self, reader: SpaceReader, mask: Any, point: Values, time: int):
        self.reader, self.mask, self.point, self.time, self.b = reader, mask, point, time, reader.builder

    def row(self, name: str) -> Values:
        return self.reader.prop_row(self.mask.uid, name, self.time)

    def value(self) -> int:
        b, mask = self.b, self.mask
        one = b.const(1)
        if mask.shape in ("union", "intersection", "difference"):
            parts = [mask_value(self.reader, uid, self.point, self.time) for uid in mask.masks]
            value = parts[0]
            for other in parts[1:]:
                value = b.op({"union": "max"}.get(mask.shape, "min"), value, b.op("sub", one, other) if mask.shape == "difference" else other)
        else:
            value = b.op("clamp", self.levelled() if mask.shape in ("picture", "noise", "formula") else self.fallen())
            if mask.curve is not None:
                value = b.op("clamp", b.op("curve", value, attrs=(MaskCurve(mask.uid),)))
        return b.op("sub", one, value) if mask.invert else value

    def fallen(self) -> int:
        b = self.b
        away = self.distance()
        if self.mask.edge.responses or self.mask.edge.base != 0:
            away = b.op("add", away, b.op("mul", self.row("edge")[0], self.noise()))
        (falloff,) = self.row("falloff")
        return b.op("share", b.op("neg", away), b.op("neg", falloff), b.const(0))

    def levelled(self) -> int:
        b, mask = self.b, self.mask
        if mask.shape == "picture":
            x = channel(b, sample(b, mask.of, self.point, self.time)[3:7], mask.channel)
        elif mask.shape == "noise":
            x = b.op("mul", self.noise(), self.row("amplitude")[0])
        else:
            formula = field_formula(self.reader.effect, mask.formula or "0")
            (x,) = Writer(self.reader.at(self.point, self.time), formula, f"mask {mask.uid}").result()
            x = b.op("guard", x, b.const(0))
        (level,), (soft,) = self.row("level"), self.row("softness")
        half = b.op("mul", soft, b.const(0.5))
        return b.op("share", x, b.op("sub", level, half), b.op("add", level, half))

    def noise(self) -> int:
        (scale,), (drift,) = self.row("noise_scale"), self.row("noise_drift")
        seed = self.reader.effect_seed(f"mask {self.mask.uid}")
        return self.b.op("noise", *self.point, self.time, scale, drift, attrs=(seed, 2))

    def distance(self) -> int:
        """Return the metres from the point to the mask's edge, negative within."""
        b, shape = self.b, self.mask.shape
        if shape == "mesh":
            return b.op("sub", sample(b, self.mask.of, self.point, self.time)[0], self.row("radius")[0])
        if shape == "distance":
            m = matrix(b, self.mask.of, self.time)
            away = b.op("length", *(b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(self.point)))
            return b.op("sub", away, self.row("radius")[0])
        m = matrix(b, self.mask.uid, self.time)
        gap = tuple(b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(self.point))
        scales = [b.op("max", b.op("length", m[k], m[4 + k], m[8 + k]), b.const(1e-6)) for k in range(3)]
        if shape == "sphere":
            return b.op("sub", b.op("length", *gap), b.op("mul", self.row("radius")[0], scales[0]))
        across = [b.op("div", weighted(b, gap, (m[k], m[4 + k], m[8 + k])), scales[k]) for k in range(3)]
        if shape == "plane":
            return across[1]
        zero = b.const(0)
        if shape == "cylinder":
            out = [b.op("sub", b.op("length", across[0], zero, across[2]), b.op("mul", self.row("radius")[0], scales[0]))]
            axes = [1]
        else:
            out, axes = [], [1] if shape == "slab" else [0, 1, 2]
        size = self.row("size")
        for k in axes:
            half = b.op("mul", b.op("mul", b.op("abs", size[k]), scales[k]), b.const(0.5))
            out.append(b.op("sub", b.op("abs", across[k]), half))
        if len(out) == 1:
            return out[0]
        # to a solid of flat ends: outside by Pythagoras, inside to the nearest side
        beyond = [b.op("max", x, zero) for x in out] + [zero] * (3 - len(out))
        most = out[0]
        for x in out[1:]:
            most = b.op("max", most, x)
        return b.op("add", b.op("length", *beyond), b.op("min", most, zero))


def density_table(density: Any) -> np.ndarray | None:
    """Return the table of the curve from a picture's channel to how dense births are; None without one."""
    return None if density.curve is None else table_of(density.curve.keys)
