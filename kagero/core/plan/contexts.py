"""Contexts in which rows are evaluated: an emitter, a birth, a step, a stored frame, a prop. Each is a
`rows.reader.Reader`.

A context knows where attributes come from. Rows are compiled on demand, in dependency order; a row that depends on
itself is refused, with the path of the circle.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..catalog import Scope, is_active
from ..document import Effect
from ..errors import CircleProblem
from ..formula import Formula, Values, Writer
from ..parts.draws import DrawPart
from ..parts.masks import Spot
from ..parts.masks.formula import space_formula
from ..program import Builder, Slot
from ..rows.placed import PlacedRow
from ..rows.responses import SourcedBase
from ..rows.slots import ResponseCurve, ResponseGradient, ResponseInput, RowBase, Seed
from ..rows.view import Owner, find_thing

AXES = ("x", "y", "z")
ALONG = (
    "along",
    "metres",
)  # where on a line a look that is drawn along lines is read: a share of its length, and metres


class Context:
    """Compiles rows and sources of one emitter or prop; subclasses say where attributes come from."""

    name = ""
    newborn = False

    def __init__(self, scope: Scope, builder: Builder, open_rows: list[str] | None = None):
        assert scope.effect is not None
        self.view, self.thing, self.builder = scope, scope.thing, builder
        self.effect: Effect = scope.effect
        self.rows = scope.every_row
        self.owner: Owner = scope.owner
        self._done: dict[str, Values] = {}
        self._open: list[str] = open_rows if open_rows is not None else []

    # the particle ---------------------------------------------------------------------------------------------------
    def state(self, name: str) -> Values:
        raise AssertionError(f"{name} needs a particle; validation refuses it")

    def clip_time(self) -> int:
        raise NotImplementedError

    def own(self, uid: str) -> Values:
        raise AssertionError("only a particle has attributes; validation refuses it")

    def kept_from_birth(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        raise AssertionError("only a particle was born; validation refuses it")

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        raise AssertionError("only a living particle has a step before; validation refuses it")

    def step_seconds(self) -> int:
        raise AssertionError("only a living particle is computed step by step; validation refuses it")

    def parent(self, part: str, count: int) -> Values:
        raise AssertionError("only a particle has a parent; validation refuses it")

    def birthplace(self) -> Values:
        raise AssertionError("only a birth has a place; what was settled there is read through `settled`")

    # sources --------------------------------------------------------------------------------------------------------
    def read(self, name: str, source: Any, read: str) -> Values:
        """Return a source as it is read, once or live. name: under which a value read once is kept."""
        return self.kept(name, source) if read == "once" else self.source(source)

    def kept(self, name: str, source: Any) -> Values:
        """Return a source's value at birth."""
        if source.lasting:
            return self.source(source)
        count = 1 if source.facts(self.view).shape == "number" else 3
        return self.kept_from_birth(name, count, lambda birth: birth.source(source))

    def source(self, source: Any) -> Values:
        return source.write(self)

    def formula(self, text: str, uid: str) -> Values:
        return Writer(self, self.view.formula(text), uid).result()

    def draw(self, uid: str) -> int:
        draw: DrawPart = find_thing(self.thing.draws, uid)
        return draw.value(self, self.hash(uid), lambda name: Context.row(self, f"draws.{uid}.{name}")[0])

    def hash(self, name: str) -> int:
        return self.builder.op("draw", self.builder.input("key"), attrs=(Seed((self.thing.uid, name)),))

    # the clip -------------------------------------------------------------------------------------------------------
    def frame(self) -> int:
        b, clip = self.builder, self.effect.clip
        return b.op("add", b.op("mul", self.clip_time(), b.const(float(clip.rate))), b.const(clip.first_frame))

    def frame_rate(self) -> int:
        return self.builder.const(float(self.effect.clip.rate))

    def own_seed(self, *names: str) -> Slot[Any]:
        return Seed((self.thing.uid, *names))

    def shared_seed(self, name: str) -> Slot[Any]:
        return Seed(("noises", name))

    # props and masks ------------------------------------------------------------------------------------------------
    def prop_row(self, uid: str, name: str, time: int) -> Values:
        scope = Scope(find_thing(self.effect.props, uid), self.effect)
        return ByClipContext(scope, self.builder, time).row(f"place.{name}")

    def mask_value(self, uid: str, point: Values, time: int) -> int:
        """Return a mask's value at a point; compiled once for each point and time of a program."""
        known, written = ("mask", uid, point, time), self.builder.written
        if known not in written:
            written[known] = find_thing(self.effect.props, uid).value(Spot(self, point, time))
        return written[known]

    def masked(self, uid: str, part: str) -> int:
        return self.mask_value(uid, self.state("position"), self.clip_time())

    def in_space(self, point: Values, time: int) -> FieldContext:
        return FieldContext(self, point, time)

    def space_formula(self, text: str) -> Formula:
        return space_formula(self.effect, text)

    # rows -----------------------------------------------------------------------------------------------------------
    def row(self, address: str) -> Values:
        """Return the values of a row: base, then responses in order, then clamped to the row's range."""
        known = self._done.get(address)
        if known is not None:
            return known
        label = f"{self.name}:{address}"
        if label in self._open:
            circle = [step.partition(":")[2] for step in self._open[self._open.index(label) :]] + [address]
            raise CircleProblem(
                "Rows drive each other in a circle: "
                + " <- ".join(self.view.row_label(self.rows[a]) for a in circle)
                + ".",
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
            if row.base.source.is_formula:
                default = spec.default if isinstance(spec.default, tuple) else (spec.default,)
                value = tuple(b.op("guard", v, b.const(d)) for v, d in zip(value, default, strict=True))
        else:
            value = tuple(self.base(placed.address, i) for i in range(spec.components))
        acting = [response for response in row.responses if is_active(self.thing, placed, response)]
        for response in acting:
            value = self._respond(response, value)
        if acting or isinstance(row.base, SourcedBase):
            low, high = b.const(spec.lowest), b.const(spec.highest)
            value = tuple(b.op("min", b.op("max", v, low), high) for v in value)
        return value

    def _respond(self, response: Any, value: Values) -> Values:
        b = self.builder
        answer = self.answer(response)
        formula = self.read(response.uid, response.source, response.read)[0] if response.source.is_formula else None
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
        """Return a response's result before it is combined: one value, or three for a gradient."""
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
        """Return a row's base value."""
        return self.builder.param(RowBase(self.owner, address, component))

    def _where(self, address: str) -> str:
        return f"{self.effect.place_of(self.owner)}.{self.rows[address].path}"


class EmitterContext(Context):
    """The emitter over time; no particle exists. Input: time."""

    name = "emitter"

    def clip_time(self) -> int:
        return self.builder.input("time")


class ByClipContext(Context):
    """A thing whose rows depend on the clip alone. In another thing's program its rows are evaluated at that program's
    times, so that births read them at their own."""

    name = "prop"

    def __init__(self, scope: Scope, builder: Builder, time: int | None = None):
        super().__init__(scope, builder)
        self.time = time

    def clip_time(self) -> int:
        return self.builder.input("time") if self.time is None else self.time


class FieldContext(Context):
    """A point and time of a mask's formula, which may read position, clip time and dials."""

    name = "field"

    def __init__(self, context: Context, point: Values, time: int):
        super().__init__(context.view, context.builder)
        self._point, self._time = point, time

    def state(self, name: str) -> Values:
        assert name == "position", "a mask's formula knows no more of a particle; its names have nothing else"
        return self._point

    def clip_time(self) -> int:
        return self._time

    def own_seed(self, *names: str) -> Slot[Any]:
        return Seed(("mask", *names))
