"""The IR of every operation: one small function each, beside its NumPy function in `reference.py`, which defines it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

from ...plan import Operation
from .text import Block, Lanes


@dataclass
class Emitter(Block):
    """A block that also knows the run-time arrays: tables by slot, and where faults are counted."""

    width: int
    tables: dict[tuple[str, int], int] = field(default_factory=dict)  # ("curve", slot) -> its place among the tables
    guards: list[str] = field(default_factory=list)  # the rows of the guards, in order
    buffers: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        super().__init__(self.width)

    def table(self, group: str, slot: int) -> tuple[str, str]:
        """Return the names of a table's pointer and of its number of rows, which the entry block loads."""
        k = self.tables.setdefault((group, slot), len(self.tables))
        return f"%table{k}", f"%rows{k}"

    def buffer(self, vectors: int) -> str:
        """Return a pointer to room for so many vectors on the stack."""
        name = f"%buffer{len(self.buffers)}"
        self.buffers.append(f"{name} = alloca [{vectors} x {self.type('f')}], align {4 * self.width}")
        return name


def _share(b: Emitter, op: Operation, x: Lanes, low: Lanes, high: Lanes) -> list[Lanes]:
    span = high - low
    flat = span.compare("oeq", 0.0)
    step = (x >= high).where(1.0, 0.0)
    return [flat.where(step, (x - low) / flat.where(1.0, span))]


def _clamp(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    return [b.least(b.most(x, b.lanes(0.0, "f")), b.lanes(1.0, "f"))]


def _mirror(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    y = x - b.floor(x * 0.5) * 2.0
    return [b.least(y, b.lanes(2.0, "f") - y)]


def _power(b: Emitter, op: Operation, x: Lanes, e: Lanes) -> list[Lanes]:
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


def _cbrt(b: Emitter, op: Operation, x: Lanes) -> list[Lanes]:
    """A power for a start, and one step of Newton's method, which puts its last digits right; tiny ones scaled by 2^72."""
    size = b.fabs(x)
    tiny = size < 1e-20
    size = tiny.where(size * 2.0**72, size)
    y = b.intrinsic("pow", size, b.lanes(1 / 3, "f"))
    better = y - (y * y * y - size) / (y * y * 3.0)
    ordinary = y.compare("ogt", 0.0) & y.compare("olt", math.inf)
    root = ordinary.where(better, y)
    return [b.intrinsic("copysign", tiny.where(root * 2.0**-24, root), x)]


def _relax(b: Emitter, op: Operation, k: Lanes, dt: Lanes) -> list[Lanes]:
    """(1 - exp(-k dt)) / k, and dt where k is nought; by a series where exp would lose the digits."""
    x = -k * dt
    flat = k.compare("oeq", 0.0)
    series = x * (x * (x * (x * (x * (1 / 120) + 1 / 24) + 1 / 6) + 0.5) + 1.0)
    grown = b.fabs(x).compare("olt", 0.25).where(series, b.intrinsic("exp", x) - 1.0)
    return [flat.where(dt, -grown / flat.where(1.0, k))]


def _curve(b: Emitter, op: Operation, t: Lanes) -> list[Lanes]:
    pointer, rows = b.table("curve", int(op.attrs[0]))
    v = b.type("f")
    b.declared["curve_lanes"] = f"declare {v} @curve_lanes(ptr, i64, {v})"
    return [b.line(f"call {v} @curve_lanes(ptr {pointer}, i64 {rows}, {v} {t.name})", "f")]


def _gradient(b: Emitter, op: Operation, t: Lanes) -> list[Lanes]:
    pointer, rows = b.table("gradient", int(op.attrs[0]))
    v, result = b.type("f"), b.buffer(3)
    b.declared["gradient_lanes"] = f"declare void @gradient_lanes(ptr, i64, {v}, ptr)"
    b.write(f"call void @gradient_lanes(ptr {pointer}, i64 {rows}, {v} {t.name}, ptr {result})")
    return [b.load(b.scalar(f"getelementptr i8, ptr {result}, i64 {4 * b.width * k}"), "f") for k in range(3)]


def _mix64(b: Emitter, z: Lanes) -> Lanes:
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
    z = (z ^ (z >> 27)) * 0x94D049BB133111EB
    return z ^ (z >> 31)


def _draw(b: Emitter, op: Operation, key: Lanes) -> list[Lanes]:
    pointer, _ = b.table("seed", int(op.attrs[0]))
    seed = b.splat(b.scalar(f"load i64, ptr {pointer}, align 8"), "k")
    z = _mix64(b, _mix64(b, key + 0x9E3779B97F4A7C15) ^ seed)
    return [(z >> 40).to("i").to("f") * (1.0 / 16777216.0)]


def _number(b: Emitter, op: Operation, key: Lanes) -> list[Lanes]:
    return [(key & 0xFFFFFF).to("i").to("f")]


def _normal(b: Emitter, op: Operation, u: Lanes) -> list[Lanes]:
    """AS 241, PPND7, as in `kernels/random.py`; there in double precision, here in single."""
    q = (u - 0.5) + 2.0**-25
    r = b.lanes(0.180625, "f") - q * q
    middle = q * (((r * 59.109374720 + 159.29113202) * r + 50.434271938) * r + 3.3871327179) / (
        ((r * 67.187563600 + 78.757757664) * r + 17.895169469) * r + 1.0)  # fmt: skip
    s = b.sqrt(-b.intrinsic("log", b.lanes(0.5, "f") - b.fabs(q)))
    a = s - 1.6
    near = (((a * 0.17023821103 + 1.3067284816) * a + 2.7568153900) * a + 1.4234372777) / ((a * 0.12021132975 + 0.73700164250) * a + 1.0)
    c = s - 5.0
    far = (((c * 0.017337203997 + 0.42868294337) * c + 3.0812263860) * c + 6.6579051150) / ((c * 0.012258202635 + 0.24197894225) * c + 1.0)
    tail = s.compare("ole", 5.0).where(near, far)
    signed = q.compare("ogt", 0.0).where(tail, -tail)
    return [b.fabs(q).compare("ole", 0.425).where(middle, signed)]


def _cone_direction(b: Emitter, op: Operation, ax: Lanes, ay: Lanes, az: Lanes, half_angle: Lanes, u: Lanes, v: Lanes) -> list[Lanes]:
    length = b.sqrt(ax * ax + ay * ay + az * az)
    nothing = length.compare("olt", 1e-12)
    safe = nothing.where(1.0, length)
    nx, ny, nz = ax / safe, nothing.where(1.0, ay / safe), az / safe
    cosine = b.lanes(1.0, "f") - u * (b.lanes(1.0, "f") - b.intrinsic("cos", half_angle))
    sine = b.sqrt(b.most(b.lanes(1.0, "f") - cosine * cosine, b.lanes(0.0, "f")))
    turn = v * (2 * math.pi)
    p, q = sine * b.intrinsic("cos", turn), sine * b.intrinsic("sin", turn)
    sign = b.intrinsic("copysign", b.lanes(1.0, "f"), nz)
    k = b.lanes(-1.0, "f") / (sign + nz)
    m = nx * ny * k
    return [
        p * (b.lanes(1.0, "f") + sign * nx * nx * k) + q * m + cosine * nx,
        p * (sign * m) + q * (sign + ny * ny * k) + cosine * ny,
        p * (-sign * nx) + q * (-ny) + cosine * nz,
    ]


def _box_surface(b: Emitter, op: Operation, sx: Lanes, sy: Lanes, sz: Lanes, face: Lanes, u: Lanes, v: Lanes) -> list[Lanes]:
    sx, sy, sz = (b.fabs(s) for s in (sx, sy, sz))
    area_x, area_y, area_z = sy * sz, sz * sx, sx * sy
    total = area_x + area_y + area_z
    pick = face * total.compare("ogt", 0.0).where(total, 1.0)
    on_x = pick < area_x
    on_y = pick.compare("uge", area_x) & (pick < area_x + area_y)
    start = on_x.where(0.0, on_y.where(area_x, area_x + area_y))
    area = on_x.where(area_x, on_y.where(area_y, area_z))
    within = (pick - start) / area.compare("ogt", 0.0).where(area, 1.0)
    side = (within < 0.5).where(-0.5, 0.5)
    p, q = u - 0.5, v - 0.5
    flat, both = b.lanes(0.0, "f"), on_x | on_y
    return [
        sx * on_x.where(side, p), sy * on_x.where(p, on_y.where(side, q)), sz * both.where(q, side),
        on_x.where(side * 2.0, flat), on_y.where(side * 2.0, flat), both.where(flat, side * 2.0),
    ]  # fmt: skip


def _leaf(name: str, outs: int) -> Callable[..., list[Lanes]]:
    def call(b: Emitter, op: Operation, *args: Lanes) -> list[Lanes]:
        given, result = b.buffer(6), b.buffer(outs)
        size = 4 * b.width
        for k, value in enumerate(args):
            b.store(value, b.scalar(f"getelementptr i8, ptr {given}, i64 {k * size}"))
        offsets, _ = b.table("offsets", int(op.attrs[0]))
        b.declared[name] = f"declare void @{name}(ptr, ptr, ptr, i64)"
        b.write(f"call void @{name}(ptr {given}, ptr {offsets}, ptr {result}, i64 {int(op.attrs[1])})")
        return [b.load(b.scalar(f"getelementptr i8, ptr {result}, i64 {k * size}"), "f") for k in range(outs)]

    return call


def _guard(b: Emitter, op: Operation, value: Lanes, before: Lanes) -> list[Lanes]:
    """Keep what is finite, else what was before; count what was replaced, and remember the first particle."""
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


EMIT: dict[str, Callable[..., list[Lanes]]] = {
    "add": lambda b, op, x, y: [x + y],
    "sub": lambda b, op, x, y: [x - y],
    "mul": lambda b, op, x, y: [x * y],
    "div": lambda b, op, x, y: [x / y],
    "min": lambda b, op, x, y: [b.least(x, y)],
    "max": lambda b, op, x, y: [b.most(x, y)],
    "neg": lambda b, op, x: [-x],
    "sqrt": lambda b, op, x: [b.sqrt(x)],
    "cbrt": _cbrt,
    "sin": lambda b, op, x: [b.intrinsic("sin", x)],
    "cos": lambda b, op, x: [b.intrinsic("cos", x)],
    "floor": lambda b, op, x: [b.floor(x)],
    "less": lambda b, op, x, y: [(x < y).where(1.0, 0.0)],
    "clamp": _clamp,
    "repeat": lambda b, op, x: [x - b.floor(x)],
    "mirror": _mirror,
    "power": _power,
    "mix": lambda b, op, x, y, t: [x * (b.lanes(1.0, "f") - t) + y * t],
    "length": lambda b, op, x, y, z: [b.sqrt(x * x + (y * y + z * z))],
    "share": _share,
    "decay": lambda b, op, k, dt: [b.intrinsic("exp", -(k * dt))],
    "relax": _relax,
    "guard": _guard,
    "curve": _curve,
    "gradient": _gradient,
    "draw": _draw,
    "number": _number,
    "normal": _normal,
    "cone_direction": _cone_direction,
    "box_surface": _box_surface,
    "noise": _leaf("noise_lanes", 1),
    "curl_noise": _leaf("curl_lanes", 3),
}
