"""Arithmetic, shaping and the integrator's functions: each with its NumPy function and its IR side by side."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

import numpy as np

from ..running import F32
from .entry import Entry

if TYPE_CHECKING:
    from ...program import Operation
    from ..ir import Emitter, Lanes

ONE, ZERO = F32(1), F32(0)


def _copy(x: Any, out: Any) -> Any:
    if out is None:
        return x if isinstance(x, np.floating) else F32(x)
    out[...] = x
    return out


def _share(x: Any, low: Any, high: Any, out: Any) -> Any:
    """Share of the way from low to high, unbounded; where both are equal, a step from 0 to 1 there."""
    span = high - low
    if np.ndim(span) == 0:
        if span == 0:
            return np.greater_equal(x, high, out=out, casting="unsafe") if out is not None else F32(x >= high)
        result = np.subtract(x, low, out=out)
        return np.divide(result, span, out=out)
    result = np.divide(x - low, np.where(span == 0, ONE, span))
    out[...] = np.where(span == 0, (x >= high).astype(F32), result)
    return out


def _share_ir(b: Emitter, op: Operation, x: Lanes, low: Lanes, high: Lanes) -> list[Lanes]:
    span = high - low
    flat = span.compare("oeq", 0.0)
    step = (x >= high).where(1.0, 0.0)
    return [flat.where(step, (x - low) / flat.where(1.0, span))]


def _clamp(x: Any, out: Any) -> Any:
    return np.minimum(np.maximum(x, ZERO, out=out), ONE, out=out)


def _clamp_ir(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    return [b.least(b.most(x, b.lanes(0.0, "f")), b.lanes(1.0, "f"))]


def _repeat(x: Any, out: Any) -> Any:
    """x - floor(x), as GLSL's fract."""
    return np.subtract(x, np.floor(x), out=out)


def _mirror(x: Any, out: Any) -> Any:
    """0..1 and back again, with period 2."""
    y = x - F32(2) * np.floor(x * F32(0.5))
    return np.minimum(y, F32(2) - y, out=out)


def _mirror_ir(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    y = x - b.floor(x * 0.5) * 2.0
    return [b.least(y, b.lanes(2.0, "f") - y)]


def _power(x: Any, e: Any, out: Any) -> Any:
    """|x|^e with the sign of x."""
    if np.ndim(e) == 0 and e == 1:
        return _copy(x, out)
    return np.copysign(np.power(np.abs(x), e), x, out=out)


def _power_ir(b: Emitter, op: Operation, x: Lanes, e: Lanes) -> list[Lanes]:
    """|x|^e with the sign of x; where e is 1, x itself. Where all are 1, which is usual, nothing is computed."""
    plain = e.compare("oeq", 1.0)
    bits = b.scalar(f"bitcast {b.type('m')} {plain.name} to i{b.width}")
    all_plain = b.scalar(f"icmp eq i{b.width} {bits}, -1")
    before, slow, done = b.label, b.fresh("power")[1:], b.fresh("powered")[1:]
    b.write(f"br i1 {all_plain}, label %{done}, label %{slow}")
    b.start(slow)
    v = b.type("f")
    b.declared["power_lanes"] = f"declare {v} @power_lanes({v}, {v})"
    raised = b.line(f"call {v} @power_lanes({v} {x.name}, {v} {e.name})", "f")
    b.write(f"br label %{done}")
    b.start(done)
    return [b.line(f"phi {b.type('f')} [ {x.name}, %{before} ], [ {raised.name}, %{slow} ]", "f")]


def _cbrt_ir(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    """A power for a start, and one step of Newton's method, which puts its last digits right; tiny ones scaled by 2^72."""
    size = b.fabs(x)
    tiny = size < 1e-20
    size = tiny.where(size * 2.0**72, size)
    y = b.intrinsic("pow", size, b.lanes(1 / 3, "f"))
    better = y - (y * y * y - size) / (y * y * 3.0)
    ordinary = y.compare("ogt", 0.0) & y.compare("olt", math.inf)
    root = ordinary.where(better, y)
    return [b.intrinsic("copysign", tiny.where(root * 2.0**-24, root), x)]


def _less(a: Any, b: Any, out: Any) -> Any:
    return _copy(np.less(a, b), out)


def _mix(a: Any, b: Any, t: Any, out: Any) -> Any:
    """a (1 - t) + b t, GLSL's mix: exactly a at 0 and b at 1."""
    return np.add(a * (ONE - t), np.multiply(b, t, out=out), out=out)


def _length(x: Any, y: Any, z: Any, out: Any) -> Any:
    return np.sqrt(np.add(np.multiply(x, x, out=out), y * y + z * z, out=out), out=out)


def _decay(k: Any, dt: Any, out: Any) -> Any:
    return np.exp(np.negative(np.multiply(k, dt, out=out), out=out), out=out)


def _relax(k: Any, dt: Any, out: Any) -> Any:
    """(1 - exp(-k dt)) / k, and dt where k is nought."""
    if np.ndim(k) == 0 and k == 0:
        return _copy(dt, out)
    safe = np.where(k == 0, ONE, k)
    result = np.where(k == 0, dt, -np.expm1(-k * dt) / safe)
    return _copy(result.astype(F32), out)


def _relax_ir(b: Emitter, op: Operation, k: Lanes, dt: Lanes) -> list[Lanes]:
    """(1 - exp(-k dt)) / k, and dt where k is nought; by a series where exp would lose the digits."""
    x = -k * dt
    flat = k.compare("oeq", 0.0)
    series = x * (x * (x * (x * (x * (x * (1 / 720) + 1 / 120) + 1 / 24) + 1 / 6) + 0.5) + 1.0)
    grown = b.fabs(x).compare("olt", 0.25).where(series, b.intrinsic("exp", x) - 1.0)
    return [flat.where(dt, -grown / flat.where(1.0, k))]


OPERATIONS: dict[str, Entry] = {
    "add": Entry(lambda a, b, out: np.add(a, b, out=out), lambda b, op, x, y: [x + y]),
    "sub": Entry(lambda a, b, out: np.subtract(a, b, out=out), lambda b, op, x, y: [x - y]),
    "mul": Entry(lambda a, b, out: np.multiply(a, b, out=out), lambda b, op, x, y: [x * y]),
    "div": Entry(lambda a, b, out: np.divide(a, b, out=out), lambda b, op, x, y: [x / y]),
    "min": Entry(lambda a, b, out: np.minimum(a, b, out=out), lambda b, op, x, y: [b.least(x, y)]),
    "max": Entry(lambda a, b, out: np.maximum(a, b, out=out), lambda b, op, x, y: [b.most(x, y)]),
    "neg": Entry(lambda a, out: np.negative(a, out=out), lambda b, op, x: [-x]),
    "sqrt": Entry(lambda a, out: np.sqrt(a, out=out), lambda b, op, x: [b.sqrt(x)]),
    "cbrt": Entry(lambda a, out: np.cbrt(a, out=out), _cbrt_ir, ulp=4),
    "sin": Entry(lambda a, out: np.sin(a, out=out), lambda b, op, x: [b.intrinsic("sin", x)], ulp=4, near=2e-7),
    "cos": Entry(lambda a, out: np.cos(a, out=out), lambda b, op, x: [b.intrinsic("cos", x)], ulp=4, near=2e-7),
    "floor": Entry(lambda a, out: np.floor(a, out=out), lambda b, op, x: [b.floor(x)]),
    "less": Entry(_less, lambda b, op, x, y: [(x < y).where(1.0, 0.0)]),
    "clamp": Entry(_clamp, _clamp_ir),
    "repeat": Entry(_repeat, lambda b, op, x: [x - b.floor(x)]),
    "mirror": Entry(_mirror, _mirror_ir),
    "power": Entry(_power, _power_ir, ulp=4),
    "mix": Entry(_mix, lambda b, op, x, y, t: [x * (b.lanes(1.0, "f") - t) + y * t]),
    "length": Entry(_length, lambda b, op, x, y, z: [b.sqrt(x * x + (y * y + z * z))]),
    "share": Entry(_share, _share_ir),
    "decay": Entry(_decay, lambda b, op, k, dt: [b.intrinsic("exp", -(k * dt))], ulp=4),
    "relax": Entry(_relax, _relax_ir, ulp=16, near=1e-7),
}
