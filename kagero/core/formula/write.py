"""A checked formula -> operations, where its row is read.

Literals are run-time values: another number compiles no machine code. Everything is computed as float32 arithmetic
goes; what is not finite in the end is caught by the guard of the row, not on the way, so that the branch not taken may
divide by nought.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from ..program import Builder, Fixed, Slot
from .check import Formula, Typed

Values = tuple[int, ...]


class FormulaReader(Protocol):
    """Where a formula is written: what it reads is values of this program."""

    builder: Builder

    def source(self, source: Any) -> Values:
        """Return the values of a source: one, or three for a whole vector or colour."""

    def clip_time(self) -> int:
        """Return seconds since the clip's first frame."""

    def frame(self) -> int:
        """Return the frame's number, with a fraction between frames."""

    def frame_rate(self) -> int:
        """Return frames a second."""

    def step_seconds(self) -> int:
        """Return the seconds since the step before."""

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """Return `count` values as they were at the end of the step before; compute gives them in a reader."""

    def own_seed(self, *names: str) -> Slot[Any]:
        """Return the seed of noise that belongs to the thing the formula is of."""

    def shared_seed(self, name: str) -> Slot[Any]:
        """Return the seed of noise that is the same under a name for all of the effect."""


PER_TURN = 6.283185307179586


class Writer:
    """Writes one formula into a program. uid: the formula's own, for its noise."""

    def __init__(self, reader: FormulaReader, formula: Formula, uid: str):
        self.reader, self.b, self.formula, self.uid = reader, reader.builder, formula, uid
        self.done: dict[int, Values] = {}

    def result(self) -> Values:
        for _, step in self.formula.steps:  # in order: so depth stays that of one line
            self.value(step)
        assert self.formula.result is not None
        return self.value(self.formula.result)

    def steps(self) -> list[tuple[str, Values]]:
        return [(name, self.value(step)) for name, step in self.formula.steps]

    def value(self, typed: Typed) -> Values:
        known = self.done.get(id(typed))
        if known is None:
            known = self.done[id(typed)] = self._write(typed)
        return known

    def _write(self, typed: Typed) -> Values:
        b, op = self.b, typed.op
        if op == "literal":
            return (b.param(Fixed(typed.value)),)
        if op == "read":
            return self._read(typed.value.source)
        if op == "part":
            return (self.value(typed.args[0])[typed.value],)
        if op == "previous":
            inner = typed.args[0]
            return self.reader.previous(
                f"{self.uid}.{typed.value}",
                typed.count,
                lambda there: Writer(there, self.formula, self.uid).value(inner),
            )
        if op == "vec3":
            parts = [self.value(arg)[0] for arg in typed.args]
            return tuple(parts * 3 if len(parts) == 1 else parts)
        if op in ("noise", "curl_noise"):
            return self._noise(typed)
        if op in _VECTORS:
            return _VECTORS[op](b, *(self.value(arg) for arg in typed.args))
        if op == "pow" and typed.args[1].op == "literal" and typed.args[1].value in _POWERS:
            return tuple(_POWERS[typed.args[1].value](b, x) for x in self.value(typed.args[0]))
        given = [self.value(arg) for arg in typed.args]
        if op in ("and", "or", "not"):
            given = [(self._truth(arg, values[0]),) for arg, values in zip(typed.args, given, strict=True)]
        if op == "choose":
            given[0] = (self._truth(typed.args[0], given[0][0]),)
        write = _EACH[op]
        width = typed.count
        return tuple(write(b, *(values[i % len(values)] for values in given)) for i in range(width))

    def _read(self, source: Any) -> Values:
        if source == "frame":
            return (self.reader.frame(),)
        if source == "frame_rate":
            return (self.reader.frame_rate(),)
        if source == "dt":
            return (self.reader.step_seconds(),)
        return self.reader.source(source)

    def _noise(self, typed: Typed) -> Values:
        b, args = self.b, typed.args
        place = self.value(args[0])
        if len(place) == 1:
            place = (place[0], b.const(0), b.const(0))
        scale = self.value(args[1])[0] if len(args) > 1 else b.const(1)
        drift = self.value(args[2])[0] if len(args) > 2 else b.const(0)
        which = args[3].value if len(args) > 3 else 0
        seed = (
            self.reader.shared_seed(which)
            if isinstance(which, str)
            else self.reader.own_seed("formula", self.uid, str(int(which)))
        )
        gain = (b.const(0.5),) if typed.op == "curl_noise" else ()
        return b.multi(typed.op, *place, self.reader.clip_time(), scale, drift, *gain, attrs=(seed, 1))

    def _truth(self, typed: Typed, value: int) -> int:
        """Return 1 where a value counts as true, else 0: everything but nought does, as in Python."""
        b = self.b
        return value if typed.kind == "truth" else b.op("sub", b.const(1), b.op("equal", value, b.const(0)))


def _not(b: Builder, truth: int) -> int:
    return b.op("sub", b.const(1), truth)


def _mod(b: Builder, x: int, y: int) -> int:
    """x - y floor(x / y), as GLSL has it."""
    return b.op("sub", x, b.op("mul", y, b.op("floor", b.op("div", x, y))))


def _smoothstep(b: Builder, low: int, high: int, x: int) -> int:
    t = b.op("clamp", b.op("share", x, low, high))
    return b.op("mul", b.op("mul", t, t), b.op("sub", b.const(3), b.op("mul", b.const(2), t)))


def _remap(b: Builder, x: int, a: int, c: int, low: int, high: int) -> int:
    return b.op("mix", low, high, b.op("share", x, a, c))


def _folded(name: str) -> Callable[..., int]:
    def write(b: Builder, *args: int) -> int:
        result = args[0]
        for arg in args[1:]:
            result = b.op(name, result, arg)
        return result

    return write


def _plain(name: str) -> Callable[..., int]:
    return lambda b, *args: b.op(name, *args)


# component by component
_EACH: dict[str, Callable[..., int]] = {
    **{
        name: _plain(name)
        for name in (
            "add",
            "sub",
            "mul",
            "div",
            "neg",
            "sin",
            "cos",
            "tan",
            "asin",
            "acos",
            "sinh",
            "cosh",
            "tanh",
            "asinh",
            "acosh",
            "atanh",
            "exp",
            "exp2",
            "log",
            "log2",
            "sqrt",
            "abs",
            "sign",
            "floor",
            "ceil",
            "trunc",
            "round",
            "pow",
            "mix",
            "less",
            "less_equal",
            "equal",
        )
    },
    "atan": lambda b, y, *x: b.op("atan2", y, *x) if x else b.op("atan", y),
    "roundEven": _plain("round"),
    "fract": _plain("repeat"),
    "mod": _mod,
    "min": _folded("min"),
    "max": _folded("max"),
    "floordiv": lambda b, x, y: b.op("floor", b.op("div", x, y)),
    "radians": lambda b, x: b.op("mul", x, b.const(PER_TURN / 360)),
    "degrees": lambda b, x: b.op("mul", x, b.const(360 / PER_TURN)),
    "inversesqrt": lambda b, x: b.op("div", b.const(1), b.op("sqrt", x)),
    "clamp": lambda b, x, low, high: b.op("min", b.op("max", x, low), high),
    "step": lambda b, edge, x: _not(b, b.op("less", x, edge)),
    "smoothstep": _smoothstep,
    "remap": _remap,
    "greater": lambda b, x, y: b.op("less", y, x),
    "greater_equal": lambda b, x, y: b.op("less_equal", y, x),
    "not_equal": lambda b, x, y: _not(b, b.op("equal", x, y)),
    "and": lambda b, x, y: b.op("mul", x, y),
    "or": lambda b, x, y: b.op("max", x, y),
    "not": _not,
    "choose": lambda b, condition, x, y: b.op("select", condition, x, y),
}

# what usual powers become: products are exact, and many times faster than a power
_POWERS: dict[float, Callable[[Builder, int], int]] = {
    1.0: lambda b, x: x,
    2.0: lambda b, x: b.op("mul", x, x),
    3.0: lambda b, x: b.op("mul", b.op("mul", x, x), x),
    0.5: lambda b, x: b.op("sqrt", x),
}


def _dot(b: Builder, p: Values, q: Values) -> int:
    x, y, z = (b.op("mul", i, j) for i, j in zip(p, q, strict=True))
    return b.op("add", b.op("add", x, y), z)


def _cross(b: Builder, p: Values, q: Values) -> Values:
    def minor(i: int, j: int) -> int:
        return b.op("sub", b.op("mul", p[i], q[j]), b.op("mul", p[j], q[i]))

    return (minor(1, 2), minor(2, 0), minor(0, 1))


def _normalize(b: Builder, v: Values) -> Values:
    length = b.op("length", *v)
    return tuple(b.op("div", x, length) for x in v)


def _reflect(b: Builder, v: Values, normal: Values) -> Values:
    twice = b.op("mul", b.const(2), _dot(b, normal, v))
    return tuple(b.op("sub", x, b.op("mul", twice, n)) for x, n in zip(v, normal, strict=True))


_VECTORS: dict[str, Callable[..., Any]] = {
    "length": lambda b, v: (b.op("length", *v),),
    "distance": lambda b, p, q: (b.op("length", *(b.op("sub", i, j) for i, j in zip(p, q, strict=True))),),
    "dot": lambda b, p, q: (_dot(b, p, q),),
    "cross": _cross,
    "normalize": _normalize,
    "reflect": _reflect,
}
