"""Directions and points from random numbers."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from ...kernels.sampling import box_surface, cone_direction
from ..run_state import Run
from .entry import Entry

if TYPE_CHECKING:
    from ...program import Operation
    from ..ir import Emitter, Lanes


def _cone_direction(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    for out, value in zip(outs, cone_direction(tuple(args[:3]), *args[3:]), strict=True):
        out[...] = value


def _cone_direction_ir(
    b: Emitter, op: Operation, ax: Lanes, ay: Lanes, az: Lanes, half_angle: Lanes, u: Lanes, v: Lanes
) -> list[Lanes]:
    length = b.sqrt(ax * ax + ay * ay + az * az)
    nothing = length.compare("olt", 1e-12)
    safe = nothing.where(1.0, length)
    nx, ny, nz = ax / safe, nothing.where(1.0, ay / safe), az / safe
    cosine = b.lanes(1.0, "f") - u * (b.lanes(1.0, "f") - b.intrinsic("cos", half_angle))
    sine = b.sqrt(b.maximum(b.lanes(1.0, "f") - cosine * cosine, b.lanes(0.0, "f")))
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


def _box_surface(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    for out, value in zip(outs, box_surface(tuple(args[:3]), *args[3:]), strict=True):
        out[...] = value


def _box_surface_ir(
    b: Emitter, op: Operation, sx: Lanes, sy: Lanes, sz: Lanes, face: Lanes, u: Lanes, v: Lanes
) -> list[Lanes]:
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
        sx * on_x.where(side, p),
        sy * on_x.where(p, on_y.where(side, q)),
        sz * both.where(q, side),
        on_x.where(side * 2.0, flat),
        on_y.where(side * 2.0, flat),
        both.where(flat, side * 2.0),
    ]


OPERATIONS: dict[str, Entry] = {
    "cone_direction": Entry(_cone_direction, _cone_direction_ir, whole=True, ulp=64, near=2e-6),
    "box_surface": Entry(_box_surface, _box_surface_ir, whole=True),
}
