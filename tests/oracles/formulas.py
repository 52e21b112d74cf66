"""An interpreter of formulas in plain Python: one particle, one float32 at a time, straight from Python's own tree.

It shares nothing with the product but the language's definition (docs/FORMULAS.md). `library` gives sin, exp ... of one
float32: the engines take them from different mathematics libraries, which their own tests hold to a few ulp.
"""

from __future__ import annotations

import ast
import math
from collections.abc import Callable
from typing import Any

import numpy as np

Value = float | tuple[float, float, float]
Library = Callable[..., float]


class Ambiguous(Exception):
    """Largest or smallest of two noughts of different sign: either may come out."""


def f32(x: float) -> float:
    with np.errstate(all="ignore"):
        return float(np.float32(x))


def divide(a: float, b: float) -> float:
    if b == 0:
        if a == 0 or math.isnan(a):
            return math.nan
        return math.copysign(math.inf, a) * math.copysign(1, b)
    return f32(a / b)


def times(a: float, b: float) -> float:
    return f32(a * b)


def floor(x: float) -> float:
    return float(math.floor(x)) if math.isfinite(x) and x != 0 else x


def root(x: float) -> float:
    return math.nan if x < 0 else f32(math.sqrt(x)) if not math.isnan(x) else x


def largest(a: float, b: float) -> float:
    if a == 0 == b and math.copysign(1, a) != math.copysign(1, b):
        raise Ambiguous
    return math.nan if math.isnan(a) or math.isnan(b) else max(a, b)


def smallest(a: float, b: float) -> float:
    return -largest(-a, -b)


def share(x: float, low: float, high: float) -> float:
    span = f32(high - low)
    return float(x >= high) if span == 0 else divide(f32(x - low), span)


def rest(x: float, y: float) -> float:
    return f32(x - times(y, floor(divide(x, y))))


def mixed(a: float, b: float, t: float) -> float:
    return f32(times(a, f32(1 - t)) + times(b, t))


def smooth(low: float, high: float, x: float) -> float:
    t = smallest(largest(share(x, low, high), 0.0), 1.0)
    return times(times(t, t), f32(3 - times(2, t)))


def rounded(x: float) -> float:
    return math.copysign(float(round(x)), x) if math.isfinite(x) else x


def sign(x: float) -> float:
    return x if math.isnan(x) else float((x > 0) - (x < 0))


ROUNDING: dict[str, Callable[..., float]] = {
    "abs": abs,
    "sign": sign,
    "floor": floor,
    "trunc": lambda x: math.copysign(float(math.trunc(x)), x) if math.isfinite(x) else x,
    "ceil": lambda x: -floor(-x),
    "round": rounded,
    "roundEven": rounded,
    "fract": lambda x: f32(x - floor(x)),
    "mod": rest,
    "sqrt": root,
    "inversesqrt": lambda x: divide(1.0, root(x)),
    "clamp": lambda x, low, high: smallest(largest(x, low), high),
    "mix": mixed,
    "step": lambda edge, x: 1.0 - float(x < edge),
    "smoothstep": smooth,
    "remap": lambda x, a, b, c, d: mixed(c, d, share(x, a, b)),
    "radians": lambda x: times(x, f32(math.pi / 180)),
    "degrees": lambda x: times(x, f32(180 / math.pi)),
}
LIBRARY = (
    "sin",
    "cos",
    "tan",
    "asin",
    "acos",
    "atan",
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
)


class Interpreter:
    def __init__(self, names: dict[str, Value], library: Library):
        self.names, self.library = dict(names), library

    def run(self, text: str) -> Value:
        value: Value = math.nan
        for line in ast.parse(text).body:
            value = self.value(line.value)  # type: ignore[attr-defined]
            if isinstance(line, ast.Assign):
                self.names[line.targets[0].id] = value  # type: ignore[attr-defined]
        return value

    def each(self, function: Callable[..., float], *values: Value) -> Value:
        if not any(isinstance(v, tuple) for v in values):
            return function(*values)
        x, y, z = (function(*(v[i] if isinstance(v, tuple) else v for v in values)) for i in range(3))
        return (x, y, z)

    def value(self, node: Any) -> Value:
        if isinstance(node, ast.Constant):
            return f32(float(node.value))
        if isinstance(node, ast.Name):
            return (
                f32({"pi": math.pi, "tau": 2 * math.pi}[node.id]) if node.id in ("pi", "tau") else self.names[node.id]
            )
        if isinstance(node, ast.Attribute):
            return self.value(node.value)[{"x": 0, "y": 1, "z": 2}[node.attr]]  # type: ignore[index]
        if isinstance(node, ast.UnaryOp):
            inner = self.value(node.operand)
            if isinstance(node.op, ast.Not):
                return float(not inner)
            return self.each(lambda x: -x, inner) if isinstance(node.op, ast.USub) else inner
        if isinstance(node, ast.BinOp):
            return self.binary(node)
        if isinstance(node, ast.BoolOp):
            values = [bool(self.value(v)) for v in node.values]
            return float(all(values) if isinstance(node.op, ast.And) else any(values))
        if isinstance(node, ast.Compare):
            values = [self.value(v) for v in (node.left, *node.comparators)]
            compare = {
                ast.Lt: "__lt__",
                ast.LtE: "__le__",
                ast.Gt: "__gt__",
                ast.GtE: "__ge__",
                ast.Eq: "__eq__",
                ast.NotEq: "__ne__",
            }
            return float(
                all(getattr(a, compare[type(op)])(b) for op, a, b in zip(node.ops, values, values[1:], strict=False))
            )
        if isinstance(node, ast.IfExp):
            a, b = self.value(node.body), self.value(node.orelse)
            chosen = a if self.value(node.test) else b
            return (
                (chosen,) * 3
                if not isinstance(chosen, tuple) and (isinstance(a, tuple) or isinstance(b, tuple))
                else chosen
            )  # type: ignore[return-value]
        return self.call(node.func.id, [self.value(arg) for arg in node.args], node.args)

    def binary(self, node: ast.BinOp) -> Value:
        a, b = self.value(node.left), self.value(node.right)
        kind = type(node.op)
        if kind is ast.Pow:
            return self.power(a, b, node.right)
        operations: dict[Any, Callable[..., float]] = {
            ast.Add: lambda x, y: f32(x + y),
            ast.Sub: lambda x, y: f32(x - y),
            ast.Mult: times,
            ast.Div: divide,
            ast.Mod: rest,
            ast.FloorDiv: lambda x, y: floor(divide(x, y)),
        }
        return self.each(operations[kind], a, b)

    def power(self, a: Value, b: Value, written: ast.expr) -> Value:
        """Usual powers are products, as the language defines."""
        usual: dict[float, Callable[[float], float]] = {
            1.0: lambda x: x,
            2.0: lambda x: times(x, x),
            3.0: lambda x: times(times(x, x), x),
            0.5: root,
        }
        if isinstance(written, ast.Constant) and float(written.value) in usual:
            return self.each(usual[float(written.value)], a)
        return self.each(lambda x, y: self.library("pow", x, y), a, b)

    def call(self, name: str, args: list[Any], written: list[ast.expr]) -> Value:
        if name == "vec3":
            return tuple(args * 3 if len(args) == 1 else args)  # type: ignore[return-value]
        if name in ("min", "max"):
            result = args[0]
            for arg in args[1:]:
                result = self.each(smallest if name == "min" else largest, result, arg)
            return result
        if name == "pow":
            return self.power(args[0], args[1], written[1])
        if name == "atan" and len(args) == 2:
            return self.each(lambda y, x: self.library("atan2", y, x), *args)
        if name in LIBRARY:
            return self.each(lambda x: self.library(name, x), args[0])
        if name in ROUNDING:
            return self.each(ROUNDING[name], *args)
        return self.vectors(name, args)

    def vectors(self, name: str, args: list[tuple[float, float, float]]) -> Value:
        def dot(p: Any, q: Any) -> float:
            x, y, z = (times(i, j) for i, j in zip(p, q, strict=True))
            return f32(f32(x + y) + z)

        def length(p: Any) -> float:
            return root(f32(times(p[0], p[0]) + f32(times(p[1], p[1]) + times(p[2], p[2]))))

        p = args[0]
        if name == "length":
            return length(p)
        if name == "normalize":
            return tuple(divide(x, length(p)) for x in p)  # type: ignore[return-value]
        q = args[1]
        if name == "distance":
            return length([f32(i - j) for i, j in zip(p, q, strict=True)])
        if name == "dot":
            return dot(p, q)
        if name == "reflect":
            twice = times(2, dot(q, p))
            return tuple(f32(i - times(twice, n)) for i, n in zip(p, q, strict=True))  # type: ignore[return-value]
        assert name == "cross", name
        return tuple(f32(times(p[i], q[j]) - times(p[j], q[i])) for i, j in ((1, 2), (2, 0), (0, 1)))  # type: ignore[return-value]
