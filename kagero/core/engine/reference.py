"""The reference engine: one small NumPy function an operation, over blocks of particles.

Values that are the same for all particles stay scalars. Buffers are reused as soon as their value is read for the last
time, so that a block stays in the processor's cache.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..kernels.curves import curve_into, gradient_into
from ..kernels.noise import curl_noise_into, lattice_offsets, noise_into
from ..kernels.random import normal_into, number_into, uniform_into
from ..kernels.sampling import box_surface, cone_direction
from ..plan import Operation, PlanValues, Program

ENGINE = f"reference numpy {np.__version__}"
BLOCK = 16_384
F32 = np.float32
ONE, ZERO = F32(1), F32(0)


@dataclass
class Faults:
    """Results that were not finite and were replaced: how many a row, and the first particle's key."""

    counts: dict[str, int] = field(default_factory=dict)
    first_key: dict[str, int] = field(default_factory=dict)

    def note(self, row: str, count: int, key: int) -> None:
        self.counts[row] = self.counts.get(row, 0) + count
        self.first_key.setdefault(row, key)


@dataclass
class Run:
    """What an operation may see besides its arguments: the values, the block's size and keys, and where faults go."""

    values: PlanValues
    size: int = 0
    keys: np.ndarray | None = None
    faults: Faults | None = None


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


def _clamp(x: Any, out: Any) -> Any:
    return np.minimum(np.maximum(x, ZERO, out=out), ONE, out=out)


def _repeat(x: Any, out: Any) -> Any:
    """x - floor(x), as GLSL's fract."""
    return np.subtract(x, np.floor(x), out=out)


def _mirror(x: Any, out: Any) -> Any:
    """0..1 and back again, with period 2."""
    y = x - F32(2) * np.floor(x * F32(0.5))
    return np.minimum(y, F32(2) - y, out=out)


def _power(x: Any, e: Any, out: Any) -> Any:
    """|x|^e with the sign of x."""
    if np.ndim(e) == 0 and e == 1:
        return _copy(x, out)
    return np.copysign(np.power(np.abs(x), e), x, out=out)


def _less(a: Any, b: Any, out: Any) -> Any:
    return _copy(np.less(a, b), out)


def _relax(k: Any, dt: Any, out: Any) -> Any:
    """(1 - exp(-k dt)) / k, and dt where k is nought."""
    if np.ndim(k) == 0 and k == 0:
        return _copy(dt, out)
    safe = np.where(k == 0, ONE, k)
    result = np.where(k == 0, dt, -np.expm1(-k * dt) / safe)
    return _copy(result.astype(F32), out)


def _copy(x: Any, out: Any) -> Any:
    if out is None:
        return F32(x)
    out[...] = x
    return out


def _mix(a: Any, b: Any, t: Any, out: Any) -> Any:
    """a (1 - t) + b t, GLSL's mix: exactly a at 0 and b at 1."""
    return np.add(a * (ONE - t), np.multiply(b, t, out=out), out=out)


def _length(x: Any, y: Any, z: Any, out: Any) -> Any:
    return np.sqrt(np.add(np.multiply(x, x, out=out), y * y + z * z, out=out), out=out)


def _decay(k: Any, dt: Any, out: Any) -> Any:
    return np.exp(np.negative(np.multiply(k, dt, out=out), out=out), out=out)


SIMPLE: dict[str, Callable[..., Any]] = {
    "add": lambda a, b, out: np.add(a, b, out=out),
    "sub": lambda a, b, out: np.subtract(a, b, out=out),
    "mul": lambda a, b, out: np.multiply(a, b, out=out),
    "min": lambda a, b, out: np.minimum(a, b, out=out),
    "max": lambda a, b, out: np.maximum(a, b, out=out),
    "div": lambda a, b, out: np.divide(a, b, out=out),
    "floor": lambda a, out: np.floor(a, out=out),
    "less": _less,
    "clamp": _clamp,
    "repeat": _repeat,
    "mirror": _mirror,
    "power": _power,
    "neg": lambda a, out: np.negative(a, out=out),
    "sqrt": lambda a, out: np.sqrt(a, out=out),
    "cbrt": lambda a, out: np.cbrt(a, out=out),
    "sin": lambda a, out: np.sin(a, out=out),
    "cos": lambda a, out: np.cos(a, out=out),
    "mix": _mix,
    "length": _length,
    "share": _share,
    "decay": _decay,
    "relax": _relax,
}


def _full(value: Any, size: int) -> np.ndarray:
    return value if isinstance(value, np.ndarray) else np.full(size, value, F32)


def _one(value: Any) -> np.ndarray:
    return value if isinstance(value, np.ndarray) else np.full(1, value, F32)


def _curve(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    curve_into(run.values.curves[op.attrs[0]], args[0], outs[0])  # type: ignore[index]


def _gradient(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    gradient_into(run.values.gradients[op.attrs[0]], args[0], *outs)  # type: ignore[index]


def _draw(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    uniform_into(args[0], np.uint64(run.values.seeds[int(op.attrs[0])]), outs[0])  # type: ignore[call-arg]


def _number(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    number_into(args[0], outs[0])  # type: ignore[call-arg]


def _normal(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    normal_into(_full(args[0], run.size), outs[0])  # type: ignore[call-arg]


def _noise(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    offset = lattice_offsets(run.values.seeds[int(op.attrs[0])])
    place = [_full(a, run.size) for a in args[:3]]
    noise_into(*place, *(_one(a) for a in args[3:]), offset, op.attrs[1], outs[0])  # type: ignore[call-arg]


def _curl_noise(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    offset = lattice_offsets(run.values.seeds[int(op.attrs[0])])
    place = [_full(a, run.size) for a in args[:3]]
    curl_noise_into(*place, *(_one(a) for a in args[3:]), offset, op.attrs[1], *outs)  # type: ignore[call-arg]


def _cone_direction(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    for out, value in zip(outs, cone_direction(tuple(args[:3]), *args[3:]), strict=True):
        out[...] = value


def _box_surface(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    for out, value in zip(outs, box_surface(tuple(args[:3]), *args[3:]), strict=True):
        out[...] = value


LEAVES: dict[str, Callable[[Run, Operation, list[Any], list[Any]], None]] = {
    "curve": _curve,
    "gradient": _gradient,
    "draw": _draw,
    "number": _number,
    "normal": _normal,
    "noise": _noise,
    "curl_noise": _curl_noise,
    "cone_direction": _cone_direction,
    "box_surface": _box_surface,
}


Step = Callable[[Run, list[Any], np.ndarray, int], None]  # run, slots, buffers, block size


class Prepared:
    """A program ready to run: which values are scalars, and which buffer each of the others uses."""

    def __init__(self, program: Program):
        self.program = program
        self._layouts: dict[frozenset[str], tuple[list[Step], list[Step], int]] = {}
        self._acts: list[tuple[Operation, Step]] = []

    def run(self, values: PlanValues, inputs: dict[str, Any], count: int, faults: Faults | None = None, block: int = BLOCK) -> dict[str, np.ndarray]:
        """Return each output as a float32 array of `count` values.

        inputs: by name, a float32 array of shape (count,) (uint64 for `key`), or a number when all particles share it.
        Results do not depend on `block`. Replaced non-finite results are counted in `faults`.
        """
        program = self.program
        results = {name: np.empty(count, F32) for name in program.outputs}
        if count == 0:
            return results
        shared, steps, buffers = self._layout(frozenset(n for n in program.inputs if isinstance(inputs[n], np.ndarray)))
        pool = np.empty((buffers, min(block, count)), F32)
        run = Run(values, size=1, faults=faults)
        keys = inputs.get("key")
        slots: list[Any] = [None] * program.size
        for name, value in program.inputs.items():
            if not isinstance(inputs[name], np.ndarray):
                slots[value] = F32(inputs[name])
        with np.errstate(all="ignore"):  # what is not finite is caught and counted by `guard`
            run.size, run.keys = count, keys if isinstance(keys, np.ndarray) else None
            for act in shared:
                act(run, slots, pool, 1)
            for start in range(0, count, block):
                stop = min(count, start + block)
                run.size = stop - start
                for name, value in program.inputs.items():
                    given = inputs[name]
                    if isinstance(given, np.ndarray):
                        slots[value] = given[start:stop]
                run.keys = keys[start:stop] if isinstance(keys, np.ndarray) else None
                for act in steps:
                    act(run, slots, pool, run.size)
                for name, value in program.outputs.items():
                    results[name][start:stop] = slots[value]
        return results

    def timed(self, values: PlanValues, inputs: dict[str, Any], count: int, clock: Callable[[], float]) -> dict[str, float]:
        """Return how long the operations of each row take, by the row's address, in the clock's unit; one block of `count`."""
        shared, steps, buffers = self._layout(frozenset(n for n in self.program.inputs if isinstance(inputs[n], np.ndarray)))
        pool = np.empty((buffers, count), F32)
        run = Run(values, size=count)
        slots: list[Any] = [None] * self.program.size
        for name, value in self.program.inputs.items():
            slots[value] = inputs[name] if isinstance(inputs[name], np.ndarray) else F32(inputs[name])
        took: dict[str, float] = {}
        rows = {id(act): op.row for op, act in self._acts}
        with np.errstate(all="ignore"):
            for act in [*shared, *steps]:
                started = clock()
                act(run, slots, pool, 1 if act in shared else count)
                row = rows[id(act)]
                took[row] = took.get(row, 0.0) + clock() - started
        return took

    def _layout(self, varying: frozenset[str]) -> tuple[list[Step], list[Step], int]:
        """Return the steps for values all particles share, those for the rest, and how many buffers these need."""
        known = self._layouts.get(varying)
        if known is not None:
            return known
        program = self.program
        scalar = [True] * program.size
        for name in varying:
            scalar[program.inputs[name]] = False
        last_read = [-1] * program.size
        for index, op in enumerate(program.operations):
            for a in op.args:
                last_read[a] = index
            for o in op.outs:
                scalar[o] = all(scalar[a] for a in op.args)
        for value in program.outputs.values():
            last_read[value] = len(program.operations)
        made_here = {o for op in program.operations for o in op.outs}
        free: list[int] = []
        buffer_of, used = [-1] * program.size, 0
        shared: list[Step] = []
        steps: list[Step] = []
        for index, op in enumerate(program.operations):
            for o in op.outs:
                if not scalar[o]:
                    if free:
                        buffer_of[o] = free.pop()
                    else:
                        buffer_of[o], used = used, used + 1
            done = [v for v in {*op.args, *op.outs} if v in made_here and not scalar[v] and last_read[v] <= index]
            free.extend(buffer_of[value] for value in done)
            together = scalar[op.outs[0]]
            act = step(op, None if together else [buffer_of[o] for o in op.outs])
            (shared if together else steps).append(act)
            self._acts.append((op, act))
        known = self._layouts[varying] = (shared, steps, used)
        return known


def step(op: Operation, buffers: list[int] | None) -> Step:
    """Return a closure that runs one operation; without buffers its result is one number that all particles share."""
    name, args, out = op.name, op.args, op.outs[0]
    if name == "param":
        slot = int(op.attrs[0])

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            slots[out] = F32(run.values.params[slot])

    elif name == "const":
        constant = F32(op.attrs[0])

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            slots[out] = constant

    elif name == "guard":

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            target = None if buffers is None else pool[buffers[0], :n]
            slots[out] = _guard(run, op, slots[args[0]], slots[args[1]], target)

    elif name in SIMPLE:
        function = SIMPLE[name]

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            target = None if buffers is None else pool[buffers[0], :n]
            slots[out] = function(*[slots[a] for a in args], target)

    elif buffers is None:  # a leaf whose arguments all particles share
        leaf = LEAVES[name]

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            small = [np.empty(1, F32) for _ in op.outs]
            leaf(run, op, [_one(slots[a]) for a in args], small)
            for o, value in zip(op.outs, small, strict=True):
                slots[o] = F32(value[0])

    else:
        leaf = LEAVES[name]

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            targets = [pool[b, :n] for b in buffers]
            leaf(run, op, [slots[a] for a in args], targets)
            for o, target in zip(op.outs, targets, strict=True):
                slots[o] = target

    return act


def _guard(run: Run, op: Operation, value: Any, before: Any, out: Any) -> Any:
    """Return value, and where it is not finite, what it was before; what was replaced is counted."""
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


def prepare(program: Program) -> Prepared:
    return Prepared(program)
