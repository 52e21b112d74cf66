"""Operations that read run-time values: curves, gradients, draws, noise; and the guard, which counts results that are
not finite."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from ...kernels.curves import curve_into, gradient_into
from ...kernels.noise import curl_noise_into, lattice_offsets, noise_into, turbulence_into
from ...kernels.random import normal_into, number_into, redrawn_uniform_into, uniform_into
from ..run_state import Run, full
from .entry import Entry, leaf

if TYPE_CHECKING:
    from ...program import Operation
    from ..ir import Emitter, Lanes


def _curve(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    curve_into(run.values.curves[op.attrs[0]], args[0], outs[0])  # type: ignore[index]


def _curve_ir(b: Emitter, op: Operation, t: Lanes) -> list[Lanes]:
    pointer, rows = b.table("curve", int(op.attrs[0]))
    v = b.type("f")
    b.declared["curve_lanes"] = f"declare {v} @curve_lanes(ptr, i64, {v})"
    return [b.line(f"call {v} @curve_lanes(ptr {pointer}, i64 {rows}, {v} {t.name})", "f")]


def _gradient(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    gradient_into(run.values.gradients[op.attrs[0]], args[0], *outs)  # type: ignore[index]


def _gradient_ir(b: Emitter, op: Operation, t: Lanes) -> list[Lanes]:
    pointer, rows = b.table("gradient", int(op.attrs[0]))
    v, result = b.type("f"), b.buffer(3)
    b.declared["gradient_lanes"] = f"declare void @gradient_lanes(ptr, i64, {v}, ptr)"
    b.write(f"call void @gradient_lanes(ptr {pointer}, i64 {rows}, {v} {t.name}, ptr {result})")
    return [b.load(b.scalar(f"getelementptr i8, ptr {result}, i64 {4 * b.width * k}"), "f") for k in range(3)]


def _mix64(b: Emitter, z: Lanes) -> Lanes:
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
    z = (z ^ (z >> 27)) * 0x94D049BB133111EB
    return z ^ (z >> 31)


def _draw(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    uniform_into(args[0], np.uint64(run.values.seeds[int(op.attrs[0])]), outs[0])


def _draw_ir(b: Emitter, op: Operation, key: Lanes) -> list[Lanes]:
    pointer, _ = b.table("seed", int(op.attrs[0]))
    seed = b.splat(b.scalar(f"load i64, ptr {pointer}, align 8"), "k")
    z = _mix64(b, _mix64(b, key + 0x9E3779B97F4A7C15) ^ seed)
    return [(z >> 40).to("i").to("f") * (1.0 / 16777216.0)]


def _redraw(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    redrawn_uniform_into(args[0], full(args[1], run.size), np.uint64(run.values.seeds[int(op.attrs[0])]), outs[0])


def _redraw_ir(b: Emitter, op: Operation, key: Lanes, times: Lanes) -> list[Lanes]:
    pointer, _ = b.table("seed", int(op.attrs[0]))
    seed = b.splat(b.scalar(f"load i64, ptr {pointer}, align 8"), "k")
    z = _mix64(b, _mix64(b, _mix64(b, key + 0x9E3779B97F4A7C15) ^ seed) + times.to("i").to("k") * 0x9E3779B97F4A7C15)
    return [(z >> 40).to("i").to("f") * (1.0 / 16777216.0)]


def _number(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    number_into(args[0], outs[0])


def _number_ir(b: Emitter, op: Operation, key: Lanes) -> list[Lanes]:
    return [(key & 0xFFFFFF).to("i").to("f")]


def _normal(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    normal_into(full(args[0], run.size), outs[0])


def _normal_ir(b: Emitter, op: Operation, u: Lanes) -> list[Lanes]:
    """AS 241, PPND7, as in `kernels/random.py`; single precision here, double there."""
    q = (u - 0.5) + 2.0**-25
    r = b.lanes(0.180625, "f") - q * q
    middle = (
        q
        * (((r * 59.109374720 + 159.29113202) * r + 50.434271938) * r + 3.3871327179)
        / (((r * 67.187563600 + 78.757757664) * r + 17.895169469) * r + 1.0)
    )
    s = b.sqrt(-b.intrinsic("log", b.lanes(0.5, "f") - b.fabs(q)))
    a = s - 1.6
    near = (((a * 0.17023821103 + 1.3067284816) * a + 2.7568153900) * a + 1.4234372777) / (
        (a * 0.12021132975 + 0.73700164250) * a + 1.0
    )
    c = s - 5.0
    far = (((c * 0.017337203997 + 0.42868294337) * c + 3.0812263860) * c + 6.6579051150) / (
        (c * 0.012258202635 + 0.24197894225) * c + 1.0
    )
    tail = s.compare("ole", 5.0).where(near, far)
    signed = q.compare("ogt", 0.0).where(tail, -tail)
    return [b.fabs(q).compare("ole", 0.425).where(middle, signed)]


def _noise(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    offset = lattice_offsets(run.values.seeds[int(op.attrs[0])])
    place = [full(a, run.size) for a in args[:3]]
    noise_into(*place, *(full(a, 1) for a in args[3:]), offset, op.attrs[1], outs[0])


def _vector_noise(kernel: Callable[..., None]) -> Callable[..., None]:
    def numpy(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
        offset = lattice_offsets(run.values.seeds[int(op.attrs[0])])
        place = [full(a, run.size) for a in args[:3]]
        kernel(*place, *(full(a, 1) for a in args[3:]), offset, op.attrs[1], *outs)

    return numpy


def guard(run: Run, op: Operation, value: Any, before: Any, out: Any) -> Any:
    """Return value, or the value before where it is not finite; replacements are counted."""
    fine = np.isfinite(value)
    if out is None:
        if fine:
            return value
        if run.faults is not None:
            run.faults.note(op.row, run.size, int(run.keys[0]) if run.keys is not None else -1)
        return before
    np.copyto(out, value)
    if fine.all():
        return out
    np.copyto(out, before, where=~fine)
    if run.faults is not None:
        bad = np.flatnonzero(~np.broadcast_to(fine, (run.size,)))
        run.faults.note(op.row, len(bad), int(run.keys[bad[0]]) if run.keys is not None else -1)
    return out


def _guard_ir(b: Emitter, op: Operation, value: Lanes, before: Lanes) -> list[Lanes]:
    """Keep finite values, otherwise the value before; count replacements, and remember the first particle."""
    fine = b.fabs(value).compare("olt", math.inf)
    result = fine.where(value, before)
    bad = fine ^ 1
    bits = b.scalar(f"bitcast {b.type('m')} {bad.name} to i{b.width}")
    counted = b.scalar(f"and i{b.width} {bits}, %counted")
    some = b.scalar(f"icmp ne i{b.width} {counted}, 0")
    k = len(b.guards)
    b.guards.append(op.row)
    fault, fine_on = b.fresh("fault")[1:], b.fresh("fine")[1:]
    b.write(f"br i1 {some}, label %{fault}, label %{fine_on}, !prof !0")
    b.start(fault)
    b.declared["fault_lanes"] = f"declare void @fault_lanes(ptr, i64, i64, i{b.width})"
    b.write(f"call void @fault_lanes(ptr %faults, i64 {k}, i64 %i, i{b.width} {counted})")
    b.write(f"br label %{fine_on}")
    b.start(fine_on)
    return [result]


OPERATIONS: dict[str, Entry] = {
    "curve": Entry(_curve, _curve_ir, whole=True),
    "gradient": Entry(_gradient, _gradient_ir, whole=True),
    "draw": Entry(_draw, _draw_ir, whole=True),
    "redraw": Entry(_redraw, _redraw_ir, whole=True),
    "number": Entry(_number, _number_ir, whole=True),
    "normal": Entry(_normal, _normal_ir, whole=True, ulp=64, near=2e-6),
    "noise": Entry(_noise, leaf("noise_lanes", 1), whole=True),
    "curl_noise": Entry(_vector_noise(curl_noise_into), leaf("curl_lanes", 3), whole=True),
    "turbulence": Entry(_vector_noise(turbulence_into), leaf("turbulence_lanes", 3), whole=True),
    "guard": Entry(guard, _guard_ir, whole=True),
}
