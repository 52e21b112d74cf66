"""Further operations of formulas: comparisons, selection, rounding, and functions of the C library under GLSL's
names."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from ..run_state import F32
from .arithmetic import _copy
from .entry import Entry, Ir

if TYPE_CHECKING:
    from ...program import Operation
    from ..ir import Emitter, Lanes


def _truth(ufunc: Any) -> Any:
    def numpy(a: Any, b: Any, out: Any) -> Any:
        return _copy(ufunc(a, b), out)

    return numpy


def _select(condition: Any, yes: Any, no: Any, out: Any) -> Any:
    """yes where the condition is not 0, otherwise no; both are computed."""
    result = np.where(np.not_equal(condition, F32(0)), yes, no)
    return _copy(result, out)


def _sign_ir(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    signed = x.compare("ogt", 0.0).where(1.0, (x < 0.0).where(-1.0, x + 0.0))
    return [signed]


def _sign(x: Any, out: Any) -> Any:
    """-1, 0 or 1; zero loses its sign, NaN stays."""
    return np.add(np.sign(x), F32(0), out=out)


def _atan2_ir(b: Emitter, op: Operation, y: Lanes, x: Lanes) -> list[Lanes]:
    return [_by_lane(b, "atan2f", y, x)]


def _by_lane(b: Emitter, name: str, *args: Lanes) -> Lanes:
    """Call a function of the C library for each lane."""
    kinds = ", ".join("float" for _ in args)
    b.declared[name] = f"declare float @{name}({kinds})"
    v = b.type("f")
    vector = "poison"
    for lane in range(b.width):
        given = [b.scalar(f"extractelement {v} {a.name}, i32 {lane}") for a in args]
        one = b.scalar(f"call float @{name}({', '.join(f'float {g}' for g in given)})")
        vector = b.line(f"insertelement {v} {vector}, float {one}, i32 {lane}", "f").name
    return type(args[0])(b, vector, "f")


def library(name: str) -> Ir:
    return lambda b, op, *args: [_by_lane(b, name, *args)]


def _intrinsic(name: str) -> Ir:
    return lambda b, op, *args: [b.intrinsic(name, *args)]


def _each(ufunc: Any) -> Any:
    return lambda x, out: ufunc(x, out=out)


OPERATIONS: dict[str, Entry] = {
    "less_equal": Entry(_truth(np.less_equal), lambda b, op, x, y: [x.compare("ole", y).where(1.0, 0.0)]),
    "equal": Entry(_truth(np.equal), lambda b, op, x, y: [x.compare("oeq", y).where(1.0, 0.0)]),
    "select": Entry(_select, lambda b, op, c, x, y: [c.compare("une", 0.0).where(x, y)]),
    "abs": Entry(_each(np.abs), lambda b, op, x: [b.fabs(x)]),
    "sign": Entry(_sign, _sign_ir),
    "ceil": Entry(_each(np.ceil), _intrinsic("ceil")),
    "trunc": Entry(_each(np.trunc), _intrinsic("trunc")),
    "round": Entry(_each(np.rint), _intrinsic("roundeven")),
    "tan": Entry(_each(np.tan), library("tanf"), ulp=4, near=2e-7),
    "asin": Entry(_each(np.arcsin), library("asinf"), ulp=4),
    "acos": Entry(_each(np.arccos), library("acosf"), ulp=4),
    "atan": Entry(_each(np.arctan), library("atanf"), ulp=4),
    "atan2": Entry(lambda y, x, out: np.arctan2(y, x, out=out), _atan2_ir, ulp=4),
    "sinh": Entry(_each(np.sinh), library("sinhf"), ulp=4),
    "cosh": Entry(_each(np.cosh), library("coshf"), ulp=4),
    "tanh": Entry(_each(np.tanh), library("tanhf"), ulp=4),
    "asinh": Entry(_each(np.arcsinh), library("asinhf"), ulp=4),
    "acosh": Entry(_each(np.arccosh), library("acoshf"), ulp=4),
    "atanh": Entry(_each(np.arctanh), library("atanhf"), ulp=4),
    "exp": Entry(_each(np.exp), _intrinsic("exp"), ulp=4),
    "exp2": Entry(_each(np.exp2), library("exp2f"), ulp=4),
    "log": Entry(_each(np.log), _intrinsic("log"), ulp=4, near=2e-7),
    "log2": Entry(_each(np.log2), library("log2f"), ulp=4, near=2e-7),
    "pow": Entry(lambda x, e, out: np.power(x, e, out=out), library("powf"), ulp=4),
}
