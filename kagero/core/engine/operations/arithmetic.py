"""Arithmetic, shaping functions and the integrator's functions, each with its NumPy function and its IR side by
side."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

import numpy as np

from ..run_state import F32
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
    """(x - low) / (high - low), unbounded; where both are equal, a step from 0 to 1 there."""
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
    return [b.minimum(b.maximum(x, b.lanes(0.0, "f")), b.lanes(1.0, "f"))]


def _repeat(x: Any, out: Any) -> Any:
    """x - floor(x), as GLSL's fract."""
    return np.subtract(x, np.floor(x), out=out)


def _mirror(x: Any, out: Any) -> Any:
    """0 to 1 and back again, with period 2."""
    y = x - F32(2) * np.floor(x * F32(0.5))
    return np.minimum(y, F32(2) - y, out=out)


def _mirror_ir(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    y = x - b.floor(x * 0.5) * 2.0
    return [b.minimum(y, b.lanes(2.0, "f") - y)]


def _power(x: Any, e: Any, out: Any) -> Any:
    """|x|^e with the sign of x."""
    if np.ndim(e) == 0 and e == 1:
        return _copy(x, out)
    return np.copysign(np.power(np.abs(x), e), x, out=out)


def _power_ir(b: Emitter, op: Operation, x: Lanes, e: Lanes) -> list[Lanes]:
    """|x|^e with the sign of x; x itself where e is 1. Where every e is 1, the usual case, nothing is computed."""
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
    """A power as a start, then one Newton step for the last digits; tiny numbers are scaled by 2^72."""
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
    """(1 - exp(-k dt)) / k, and dt where k is 0."""
    if np.ndim(k) == 0 and k == 0:
        return _copy(dt, out)
    safe = np.where(k == 0, ONE, k)
    result = np.where(k == 0, dt, -np.expm1(-k * dt) / safe)
    return _copy(result.astype(F32), out)


def _relax_ir(b: Emitter, op: Operation, k: Lanes, dt: Lanes) -> list[Lanes]:
    """(1 - exp(-k dt)) / k, and dt where k is 0; by a series where exp would lose digits."""
    x = -k * dt
    flat = k.compare("oeq", 0.0)
    series = x * (x * (x * (x * (x * (x * (1 / 720) + 1 / 120) + 1 / 24) + 1 / 6) + 0.5) + 1.0)
    grown = b.fabs(x).compare("olt", 0.25).where(series, b.intrinsic("exp", x) - 1.0)
    return [flat.where(dt, -grown / flat.where(1.0, k))]


def _creep(k: Any, dt: Any, out: Any) -> Any:
    """(dt - (1 - exp(-k dt)) / k) / k, and dt² / 2 where k is 0: displacement by an acceleration of 1 m/s² under drag
    at rate k."""
    k, dt = np.asarray(k, np.float64), np.asarray(dt, np.float64)
    x = k * dt
    small = np.abs(x) < 0.05
    series = 0.5 - x * (1 / 6 - x * (1 / 24 - x * (1 / 120 - x / 720)))
    safe = np.where(small, 1.0, x)
    result = np.where(small, series, (safe + np.expm1(-safe)) / (safe * safe)) * dt * dt
    return _copy(result.astype(F32), out) if np.ndim(result) else _copy(F32(result), out)


def _creep_ir(b: Emitter, op: Operation, k: Lanes, dt: Lanes) -> list[Lanes]:
    return [_crept(b, k, dt)]


def _crept(b: Emitter, k: Lanes, dt: Lanes) -> Lanes:
    x = k * dt
    small = b.fabs(x).compare("olt", 0.5)
    series = (((((x * (-1 / 40320) + 1 / 5040) * -x + 1 / 720) * -x + 1 / 120) * -x + 1 / 24) * -x + 1 / 6) * -x + 0.5
    safe = small.where(1.0, x)
    grown = (safe + (b.intrinsic("exp", -safe) - 1.0)) / (safe * safe)
    return small.where(series, grown) * dt * dt


def _flight(run: Any, op: Operation, args: list[Any], outs: list[Any]) -> None:
    """The solution of x'' = a - k x' - s x over a step of dt, per axis: share of the velocity that remains,
    displacement by a velocity of 1, and displacement by an acceleration of 1. Under-damped, critical and over-damped;
    exact for any dt. Any textbook of mechanics."""
    k, s, dt = (np.asarray(a, np.float64) for a in args)
    far, near = flight_of(k * dt, s * dt * dt)
    outs[0][...] = 1 - k * dt * far - s * dt * dt * near
    outs[1][...] = far * dt
    outs[2][...] = near * dt * dt


def flight_of(k: Any, q: Any) -> tuple[Any, Any]:
    """Return, for a step of length 1, the displacements by unit velocity and unit acceleration. k: damping, q:
    stiffness, 0 or more, float64."""
    k, q = np.broadcast_arrays(np.asarray(k, np.float64), np.asarray(q, np.float64))
    small = (k < 0.5) & (q < 0.25)
    first = np.full(k.shape, 0.5)
    terms, far, near = [np.zeros(k.shape), first], 2 * first, first.copy()
    for i in range(1, 14):  # the power series of the push's distance; that of the speed is its derivative
        term = -(k * (i + 1) * terms[-1] + q * terms[-2]) / ((i + 2) * (i + 1))
        far, near = far + (i + 2) * term, near + term
        terms.append(term)
    h = k / 2
    disc = np.where(small, 1.0, h * h - q)
    w = np.sqrt(np.abs(disc))
    over = disc >= 0
    r2 = np.where(small, 2.0, h + w)
    r1 = np.where(small, 1.0, q / np.where(r2 > 0, r2, 1))
    fall = np.exp(-np.where(over, r1, h))
    wide = 2 * w
    safe = np.where(wide > 1e-12, wide, 1)
    grown = np.where(wide > 1e-12, -np.expm1(-safe) / safe, 1.0)
    slow = np.where(over, fall * grown, fall * np.sin(w) / np.where(w > 0, w, 1))
    middle = np.where(over, (np.exp(-r1) + np.exp(-np.where(over, r2, 0))) / 2, fall * np.cos(w))
    apart = over & (q < 0.75 * h * h)
    ends = [np.where(r > 1e-12, -np.expm1(-r) / np.where(r > 1e-12, r, 1), 1.0) for r in (np.maximum(r1, 0), r2)]
    push = np.where(apart, (ends[0] - ends[1]) / safe, (1 - middle - h * slow) / np.where(q > 0, q, 1))
    return np.where(small, far, slow), np.where(small, near, push)


def _flight_ir(b: Emitter, op: Operation, k: Lanes, s: Lanes, dt: Lanes) -> list[Lanes]:
    k, q = k * dt, s * dt * dt
    small = k.compare("olt", 0.5) & q.compare("olt", 0.25)
    before, term = b.lanes(0.0, "f"), b.lanes(0.5, "f")
    far, near = b.lanes(1.0, "f"), b.lanes(0.5, "f")
    for i in range(1, 9):
        before, term = term, -(k * term * float(i + 1) + q * before) * (1 / ((i + 2) * (i + 1)))
        far, near = far + term * float(i + 2), near + term
    h = k * 0.5
    disc = small.where(1.0, h * h - q)
    w = b.sqrt(b.fabs(disc))
    over = disc.compare("oge", 0.0)
    r2 = small.where(2.0, h + w)
    r1 = small.where(1.0, q / r2.compare("ogt", 0.0).where(r2, 1.0))
    fall = b.intrinsic("exp", -over.where(r1, h))
    wide = w * 2.0
    one = b.lanes(1.0, "f")
    grown = _relaxed(b, wide)
    turn = over.where(0.0, w)
    slow = fall * over.where(grown, b.intrinsic("sin", turn) / over.where(1.0, w))
    middle = over.where((fall + b.intrinsic("exp", -over.where(r2, 0.0))) * 0.5, fall * b.intrinsic("cos", turn))
    apart = over & q.compare("olt", h * h * 0.75)
    some = wide.compare("ogt", 0.0).where(wide, 1.0)
    push = apart.where(
        (_relaxed(b, r1) - _relaxed(b, r2)) / some, (one - middle - h * slow) / q.compare("ogt", 0.0).where(q, 1.0)
    )
    far, near = small.where(far, slow), small.where(near, push)
    return [one - k * far - q * near, far * dt, near * dt * dt]


def _relaxed(b: Emitter, x: Lanes) -> Lanes:
    """(1 - exp(-x)) / x, and 1 where x is 0; by a series where exp would lose digits."""
    y = -x
    series = y * (y * (y * (y * (y * (y * (1 / 720) + 1 / 120) + 1 / 24) + 1 / 6) + 0.5) + 1.0)
    grown = b.fabs(x).compare("olt", 0.25).where(series, b.intrinsic("exp", y) - 1.0)
    flat = x.compare("oeq", 0.0)
    return flat.where(1.0, grown / flat.where(1.0, y))


OPERATIONS: dict[str, Entry] = {
    "add": Entry(lambda a, b, out: np.add(a, b, out=out), lambda b, op, x, y: [x + y]),
    "sub": Entry(lambda a, b, out: np.subtract(a, b, out=out), lambda b, op, x, y: [x - y]),
    "mul": Entry(lambda a, b, out: np.multiply(a, b, out=out), lambda b, op, x, y: [x * y]),
    "div": Entry(lambda a, b, out: np.divide(a, b, out=out), lambda b, op, x, y: [x / y]),
    "min": Entry(lambda a, b, out: np.minimum(a, b, out=out), lambda b, op, x, y: [b.minimum(x, y)]),
    "max": Entry(lambda a, b, out: np.maximum(a, b, out=out), lambda b, op, x, y: [b.maximum(x, y)]),
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
    "creep": Entry(_creep, _creep_ir, ulp=64, near=1e-7),
    "flight": Entry(_flight, _flight_ir, whole=True, ulp=64, near=2e-6),
}
