"""Where a row is evaluated: for the emitter, at a birth, in a step, or on a stored frame.

Each context knows where its attributes come from. Rows are compiled on demand, in dependency order; a row that comes
back to itself is refused with the way it went.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ..catalog import PlacedRow, Scope, act, all_rows, row_label
from ..effect import BOUNDS, SourcedBase
from ..errors import CircleProblem
from ..program import Builder, Slot
from .formulas import Values, Writer
from .masks import channel, luminance, mask_value, matrix, sample, weighted
from .slots import ChoiceTable, DialValue, OfProp, ResponseCurve, ResponseGradient, ResponseInput, RowBase, Seed
from .view import Owner, Rows

AXES = ("x", "y", "z")
# attributes that are rows
ROWS_READ = {"size": "look.size", "opacity": "look.opacity", "colour": "look.colour", "spin": "motion.spin", "mass": "births.mass",
         "lifespan": "births.lifespan"}  # fmt: skip


class Context:
    """Compiles rows and sources of one emitter; subclasses say what attributes are."""

    name = ""

    def __init__(self, scope: Scope, rows: Rows, builder: Builder, open_rows: list[str] | None = None):
        assert scope.effect is not None
        self.scope, self.effect, self.emitter = scope, scope.effect, scope.emitter
        self.rows, self.builder = rows, builder
        self.owner: Owner = scope.owner
        self._done: dict[str, Values] = {}
        self._open: list[str] = open_rows if open_rows is not None else []

    # sources --------------------------------------------------------------------------------------------------------
    def attribute(self, kind: str) -> Values:
        raise NotImplementedError

    def own(self, uid: str) -> Values:
        raise NotImplementedError

    def kept(self, name: str, source: Any) -> Values:
        """Return what a source was at birth. name: what it is kept under."""
        raise NotImplementedError

    def previous(self, name: str, count: int, compute: Callable[[Context], Values]) -> Values:
        """Return what a value was at the end of the step before: `count` values, as `compute` gives them in a context."""
        raise AssertionError("only a living particle has a step before; validation refuses it")

    def step_seconds(self) -> int:
        raise AssertionError("only a living particle is computed step by step; validation refuses it")

    def read(self, name: str, source: Any, read: str) -> Values:
        return self.kept(name, source) if read == "once" else self.source(source)

    def source(self, source: Any) -> Values:
        """Return a source's values: one, or three for a whole vector or colour."""
        b, kind = self.builder, source.kind
        if kind == "draw":
            return (self.draw(source.draw),)
        if kind == "dial":
            return (self.dial(source.dial),)
        if kind == "prop":
            return self._part(self.standing(source.prop), source)
        if kind == "mask":
            return (self.masked(source.mask, source.part),)
        if kind == "surface":
            found = sample(b, source.prop, self.attribute("position"), self.clip_time())
            return (found[("distance", "u", "v").index(source.part)],)
        if kind == "picture":
            colour = self.pictured(source)
            return colour[:3] if source.part == "whole" else (channel(b, colour, source.part),)
        if kind == "parent":
            colours = {"red": 0, "green": 1, "blue": 2}
            if source.part in colours or source.part == "whole":
                colour = self.parent("colour", 3)
                return colour if source.part == "whole" else (colour[colours[source.part]],)
            return self.parent(source.part, 1)
        if kind == "formula":
            return Writer(self, self.scope.formula(source.text), source.uid).result()
        if kind == "own":
            return self._part(self.own(source.own), source)
        if kind == "row":
            return self._part(self.row(source.row), source)
        if kind == "noise":
            place = self.attribute("position")
            scale, drift = (self.row(f"sources.{source.uid}.{name}")[0] for name in ("scale", "drift"))
            seed = self.shared_seed(source.shared) if source.shared else self.own_seed(source.uid, "noise source")
            return (b.op("noise", *place, self.clip_time(), scale, drift, attrs=(seed, source.octaves)),)
        if kind == "distance":
            point = self.row(f"sources.{source.uid}.point")
            away = (b.op("sub", p, q) for p, q in zip(self.attribute("position"), point, strict=True))
            return (b.op("length", *away),)
        values = self.attribute(kind)
        return self._part(values, source) if hasattr(source, "part") else values

    def _part(self, values: Values, source: Any) -> Values:
        part = source.part
        if part == "whole" or len(values) == 1:
            return values
        if part == "length":
            return (self.builder.op("length", *values),)
        if part == "along":
            length = math.sqrt(sum(x * x for x in source.axis)) or 1.0
            axis = [x / length for x in source.axis] if any(source.axis) else [0.0, 1.0, 0.0]
            return (weighted(self.builder, values, tuple(self.builder.const(x) for x in axis)),)
        return (values[{"x": 0, "y": 1, "z": 2, "red": 0, "green": 1, "blue": 2}[part]],)

    def brightness(self) -> int:
        return luminance(self.builder, self.row("look.colour"))

    # the clip -------------------------------------------------------------------------------------------------------
    def clip_time(self) -> int:
        return self.attribute("clip_time")[0]

    def frame(self) -> int:
        b, clip = self.builder, self.effect.clip
        return b.op("add", b.op("mul", self.clip_time(), b.const(float(clip.rate))), b.const(clip.first_frame))

    def frame_rate(self) -> int:
        return self.builder.const(float(self.effect.clip.rate))

    def own_seed(self, *names: str) -> Slot[Any]:
        return Seed((self.emitter.uid, *names))

    def shared_seed(self, name: str) -> Slot[Any]:
        return Seed(("noises", name))

    def effect_seed(self, name: str) -> Slot[Any]:
        return Seed((name,))

    # the stage --------------------------------------------------------------------------------------------------------
    def standing(self, uid: str) -> Values:
        """Return where a prop stands now, with what it follows."""
        m = matrix(self.builder, uid, self.clip_time())
        return (m[3], m[7], m[11])

    def prop_row(self, uid: str, name: str, time: int) -> Values:
        prop = next(prop for prop in self.effect.props if prop.uid == uid)
        scope = Scope(prop, self.effect)
        return PropContext(scope, {placed.address: placed for placed in all_rows(scope)}, self.builder, time).row(f"place.{name}")

    def at(self, point: Values, time: int) -> FieldContext:
        return FieldContext(self, point, time)

    def masked(self, uid: str, part: str) -> int:
        """Return a mask's value where the particle is; of `latched` and `since`, what the particle remembers of it."""
        return mask_value(self, uid, self.attribute("position"), self.clip_time())

    def pictured(self, source: Any) -> Values:
        """Return red, green, blue, alpha of a prop's picture: at its nearest place, or where the particle was born."""
        if source.at == "near":
            return sample(self.builder, source.prop, self.attribute("position"), self.clip_time())[3:7]
        u, v = (self.attribute(kind)[0] for kind in ("birth_u", "birth_v"))
        return self.builder.multi("prop_picture", u, v, self.clip_time(), attrs=(OfProp(source.prop),))

    def parent(self, part: str, count: int) -> Values:
        """Return what a particle's parent was at its birth: `count` values."""
        raise AssertionError("only a particle has a parent; validation refuses it")

    def hash(self, name: str) -> int:
        """Return a number in [0, 1) that belongs to the particle and this name."""
        return self.builder.op("draw", self.builder.input("key"), attrs=(Seed((self.emitter.uid, name)),))

    def dial(self, uid: str) -> int:
        return self.builder.param(DialValue(uid))

    def draw(self, uid: str) -> int:
        """Return a draw's value; its bounds are read where this context can read them."""
        b, u = self.builder, self.hash(uid)
        draw = next(draw for draw in self.emitter.draws if draw.uid == uid)
        bound = {name: Context.row(self, f"draws.{uid}.{name}")[0] for name in BOUNDS[draw.kind]}
        if draw.kind == "uniform":
            return b.op("mix", bound["low"], bound["high"], u)
        if draw.kind == "spread":
            side = b.op("sub", b.op("mul", u, b.const(2)), b.const(1))
            return b.op("add", bound["centre"], b.op("mul", bound["spread"], side))
        if draw.kind == "normal":
            value = b.op("add", bound["mean"], b.op("mul", bound["deviation"], b.op("normal", u)))
            if draw.absolute:
                value = b.op("max", value, b.op("neg", value))
            return b.op("min", b.op("max", value, bound["lowest"]), bound["highest"]) if draw.clamped else value
        if draw.kind == "choice":
            return b.op("curve", u, attrs=(ChoiceTable(self.owner, uid),))
        if draw.kind == "sign":
            return b.op("sub", b.op("mul", b.op("less", u, bound["chance"]), b.const(2)), b.const(1))
        span = b.op("add", b.op("sub", bound["high"], bound["low"]), b.const(1))
        return b.op("min", b.op("floor", b.op("add", bound["low"], b.op("mul", u, span))), bound["high"])

    # rows -----------------------------------------------------------------------------------------------------------
    def row(self, address: str) -> Values:
        """Return the values of a row in this context: base, then its responses in order, then held to its range."""
        known = self._done.get(address)
        if known is not None:
            return known
        label = f"{self.name}:{address}"
        if label in self._open:
            circle = [step.partition(":")[2] for step in self._open[self._open.index(label) :]] + [address]
            raise CircleProblem(
                "Rows drive each other in a circle: " + " <- ".join(self._label(a) for a in circle) + ".",
                where=self._where(address),
                remedy="Mute or remove one of these responses.",
            )
        self._open.append(label)
        outer_row, self.builder.row = self.builder.row, address
        try:
            result = self._done[address] = self._compile(self.rows[address])
        finally:
            self.builder.row = outer_row
            self._open.pop()
        return result

    def _compile(self, placed: PlacedRow) -> Values:
        b, spec, row = self.builder, placed.spec, placed.row
        if isinstance(row.base, SourcedBase):
            value = self.read(f"base.{placed.address}", row.base.source, row.base.read)
            if row.base.source.kind == "formula":
                default = spec.default if isinstance(spec.default, tuple) else (spec.default,)
                value = tuple(b.op("guard", v, b.const(d)) for v, d in zip(value, default, strict=True))
        else:
            base = row.base if isinstance(row.base, tuple) else (row.base,)
            value = tuple(self.base(placed.address, i) for i in range(len(base)))
        acting = [response for response in row.responses if act(self.emitter, placed, response)]
        for response in acting:
            value = self._respond(response, value)
        if acting or isinstance(row.base, SourcedBase):
            low, high = b.const(spec.lowest), b.const(spec.highest)
            value = tuple(b.op("min", b.op("max", v, low), high) for v in value)
        return value

    def _respond(self, response: Any, value: Values) -> Values:
        b = self.builder
        answer = self.answer(response)
        formula = self.read(response.uid, response.source, response.read)[0] if response.source.kind == "formula" else None
        acts_on = [True] * len(value)
        component = getattr(response, "component", "all")
        if component != "all" and len(value) == 3:
            acts_on = [axis == component for axis in AXES]
        amount = self.setting(response, "amount")
        result = []
        for i, v in enumerate(value):
            if not acts_on[i]:
                result.append(v)
                continue
            x = answer[i % len(answer)]
            name = {"multiply": "mul", "add": "add", "at_most": "min", "at_least": "max"}.get(response.operation)
            new = b.op("mix", v, x if name is None else b.op(name, v, x), amount)
            if formula is not None:  # a curve may turn what is not finite into something that is: let the guard see it
                new = b.op("select", b.op("equal", b.op("sub", formula, formula), b.const(0)), new, formula)
            result.append(b.op("guard", new, v))
        return tuple(result)

    def answer(self, response: Any) -> Values:
        """Return what a response gives before it is combined: one value, or three for a gradient."""
        b, uid = self.builder, response.uid
        (source,) = self.read(uid, response.source, response.read)
        if response.kind == "ratio":
            share = b.op("div", source, self.setting(response, "reference"))
            return (b.op("power", share, self.setting(response, "power")),)
        low, high = (b.param(ResponseInput(self.owner, uid, end)) for end in (0, 1))
        share = b.op("sub", b.op("share", source, low, high), self.setting(response, "shift"))
        share = b.op({"hold": "clamp", "repeat": "repeat", "mirror": "mirror"}[response.beyond], share)
        if response.kind == "gradient":
            return b.multi("gradient", share, attrs=(ResponseGradient(self.owner, uid),))
        height = b.op("curve", share, attrs=(ResponseCurve(self.owner, uid),))
        height = b.op("power", height, self.setting(response, "exponent"))
        return (b.op("mix", self.setting(response, "low"), self.setting(response, "high"), height),)

    def setting(self, response: Any, name: str) -> int:
        return self.row(f"responses.{response.uid}.{name}")[0]

    def base(self, address: str, component: int = 0) -> int:
        """Return the number that a row has by itself."""
        return self.builder.param(RowBase(self.owner, address, component))

    def _label(self, address: str) -> str:
        return row_label(self.emitter, self.rows[address])

    def _where(self, address: str) -> str:
        return f"emitters.{self.effect.emitters.index(self.emitter)}.{self.rows[address].path}"


class EmitterContext(Context):
    """The emitter as time goes; no particle exists. Input: time."""

    name = "emitter"

    def attribute(self, kind: str) -> Values:
        if kind == "clip_time":
            return (self.builder.input("time"),)
        raise AssertionError(f"{kind} needs a particle; validation refuses it")


class PropContext(Context):
    """A prop as time goes. In another's program its rows are read at that program's times, so that births read them at their own."""

    name = "prop"

    def __init__(self, scope: Scope, rows: Rows, builder: Builder, time: int | None = None):
        super().__init__(scope, rows, builder)
        self.time = time

    def attribute(self, kind: str) -> Values:
        if kind == "clip_time":
            return (self.builder.input("time") if self.time is None else self.time,)
        raise AssertionError(f"{kind} needs a particle; validation refuses it")


class FieldContext:
    """A point and time of a mask's formula, which reads position, clip time and dials."""

    def __init__(self, context: Context, point: Values, time: int):
        self.builder, self._context, self._point, self._time = context.builder, context, point, time

    def source(self, source: Any) -> Values:
        if source.kind == "dial":
            return (self._context.dial(source.dial),)
        return self._point if source.kind == "position" else (self._time,)

    def clip_time(self) -> int:
        return self._time

    def frame(self) -> int:
        raise AssertionError("a mask's formula knows no frames; its names have none")

    frame_rate = step_seconds = frame

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        raise AssertionError("a mask has no step before; its names have none")

    def own_seed(self, *names: str) -> Slot[Any]:
        return Seed(("mask", *names))

    def shared_seed(self, name: str) -> Slot[Any]:
        return self._context.shared_seed(name)
