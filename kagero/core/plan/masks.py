"""A mask -> plan operations: its value, 0..1, at any point and time. Masks read the clip, dials and props, and no particle.

The distance to the edge is in metres of the world, negative within; the mask goes from 1 at the edge to 0 at the end of the
falloff outward. Joined masks are as Zadeh, "Fuzzy sets", 1965, has them: union is the larger, intersection the smaller, difference
the smaller of one and what the other leaves.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ..catalog import Scope, all_rows, field_formula
from ..kernels.curves import SHAPES, curve_table
from ..kernels.random import seed_of
from .formulas import Writer

if TYPE_CHECKING:
    from .contexts import Context, Values

AXES = ("x", "y", "z")


def matrix(context: Context, uid: str, time: int) -> Values:
    """Return where a prop stands: twelve values, three rows of four; of all that it follows too."""
    slot = context.values.prop(f"stands {uid}", context.asked(uid))
    return context.builder.multi("prop_matrix", time, attrs=(slot,), outs=12)


def sample(context: Context, uid: str, point: Values, time: int) -> Values:
    """Return distance, u, v, red, green, blue, alpha of the nearest place of a prop."""
    slot = context.values.prop(f"stands {uid}", context.asked(uid))
    return context.builder.multi("prop_sample", *point, time, attrs=(slot,), outs=7)


def channel(context: Context, colour: Values, name: str) -> int:
    """Return one value of red, green, blue, alpha: a component, or the luminance in linear light."""
    if name == "luminance":
        return context.luminance(colour[:3])
    return colour[("red", "green", "blue", "alpha").index(name)]


def mask_value(context: Context, uid: str, point: Values, time: int) -> int:
    """Return a mask's value at a point: compiled once for each point and time of a program, however many masks name it."""
    known = (uid, point, time)
    if known not in context.builder.masks:
        mask = next(prop for prop in context.effect.props if prop.uid == uid)
        context.builder.masks[known] = _Mask(context, mask, point, time).value()
    return context.builder.masks[known]


class _Mask:
    def __init__(self, context: Context, mask: Any, point: Values, time: int):
        from .contexts import PropContext

        self.context, self.mask, self.point, self.time, self.b = context, mask, point, time, context.builder
        scope = Scope(mask, context.effect)
        rows = {placed.address: placed for placed in all_rows(scope)}
        self.rows = PropContext(scope, rows, context.builder, context.values.within(f"prop {mask.uid}"), time)

    def row(self, name: str) -> Values:
        return self.rows.row(f"place.{name}")

    def value(self) -> int:
        b, mask, context = self.b, self.mask, self.context
        one = b.const(1)
        if mask.shape in ("union", "intersection", "difference"):
            parts = [mask_value(context, uid, self.point, self.time) for uid in mask.masks]
            value = parts[0]
            for other in parts[1:]:
                value = b.op({"union": "max"}.get(mask.shape, "min"), value, b.op("sub", one, other) if mask.shape == "difference" else other)
        else:
            value = b.op("clamp", self.levelled() if mask.shape in ("picture", "noise", "formula") else self.fallen())
            if mask.curve is not None:
                value = b.op("clamp", b.op("curve", value, attrs=(context.values.curve(f"mask {mask.uid}", mask_table(mask)),)))
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
            found = sample(self.context, mask.of, self.point, self.time)
            x = channel(self.context, found[3:7], mask.channel)
        elif mask.shape == "noise":
            x = b.op("mul", self.noise(), self.row("amplitude")[0])
        else:
            formula = field_formula(self.context.effect, mask.formula or "0")
            (x,) = Writer(_Field(self.context, self.point, self.time), formula, f"mask {mask.uid}").result()  # type: ignore[arg-type]
            x = b.op("guard", x, b.const(0))
        (level,), (soft,) = self.row("level"), self.row("softness")
        half = b.op("mul", soft, b.const(0.5))
        return b.op("share", x, b.op("sub", level, half), b.op("add", level, half))

    def noise(self) -> int:
        (scale,), (drift,) = self.row("noise_scale"), self.row("noise_drift")
        name = f"mask {self.mask.uid}"
        seed = self.context.values.seed(name, seed_of(self.context.effect.clip.seed, name))
        return self.b.op("noise", *self.point, self.time, scale, drift, attrs=(seed, 2))

    def distance(self) -> int:
        """Return the metres from the point to the mask's edge, negative within."""
        b, shape = self.b, self.mask.shape
        if shape == "mesh":
            return b.op("sub", sample(self.context, self.mask.of, self.point, self.time)[0], self.row("radius")[0])
        if shape == "distance":
            m = matrix(self.context, self.mask.of, self.time)
            away = b.op("length", *(b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(self.point)))
            return b.op("sub", away, self.row("radius")[0])
        m = matrix(self.context, self.mask.uid, self.time)
        gap = [b.op("sub", p, m[4 * i + 3]) for i, p in enumerate(self.point)]
        scales = [b.op("max", b.op("length", m[k], m[4 + k], m[8 + k]), b.const(1e-6)) for k in range(3)]
        if shape == "sphere":
            return b.op("sub", b.op("length", *gap), b.op("mul", self.row("radius")[0], scales[0]))
        across = [b.op("div", self.dot(gap, [m[k], m[4 + k], m[8 + k]]), scales[k]) for k in range(3)]
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

    def dot(self, p: list[int], q: list[int]) -> int:
        b = self.b
        x, y, z = (b.op("mul", i, j) for i, j in zip(p, q, strict=True))
        return b.op("add", b.op("add", x, y), z)


class _Field:
    """Where a mask's formula is computed: at a point and time."""

    def __init__(self, context: Context, point: Values, time: int):
        self.builder, self.values, self.effect, self.emitter = context.builder, context.values, context.effect, _Nobody()
        self._context, self._point, self._time = context, point, time

    def attribute(self, kind: str) -> Values:
        return self._point if kind == "position" else (self._time,)

    def source(self, source: Any) -> Values:
        return (self._context.dial(source.dial),) if source.kind == "dial" else self.attribute(source.kind)


class _Nobody:
    uid = "mask"


def density_table(density: Any) -> Any:
    """Return the table of the curve from a picture's channel to how dense births are; None without one."""
    return None if density.curve is None else mask_table(density)


def mask_table(mask: Any) -> Any:
    """Return the table of the curve that a mask or density has of its own."""
    keys = mask.curve.keys
    return curve_table([k.x for k in keys], [k.y for k in keys], [SHAPES[k.shape] for k in keys], [(k.into, k.out) for k in keys])
