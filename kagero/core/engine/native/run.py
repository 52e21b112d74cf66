"""Runs a program as machine code: values that all particles share as the reference engine computes them, the rest in
lanes."""

from __future__ import annotations

import ctypes
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np

from ...kernels.noise import lattice_offsets
from ...memory import PROCESS
from ...program import Operation, Program, ProgramValues
from .. import reference
from ..ir import Emitter, Lanes
from ..operations import OPERATIONS
from ..run_state import F32, Faults, Run
from .machine import Compiled, compile_plan, known_plan
from .staged import Segment, is_leaf, leaves_of, run_segments, split_at_leaves

NO_PARTICLE = np.iinfo(np.int64).max
TIME_INPUTS = {"time", "middle", "time.later", "time.sooner"}  # inputs that differ from step to step
MIN_PARTICLES_PER_THREAD = 16_384  # particles below which a second thread costs more than it saves
_pool: ThreadPoolExecutor | None = None
_pool_lock = threading.Lock()


def _workers(threads: int) -> ThreadPoolExecutor:
    global _pool
    with _pool_lock:
        if _pool is None or _pool._max_workers < threads:
            _pool = ThreadPoolExecutor(threads, thread_name_prefix="particles")
        return _pool


class Layout:
    """A program for one choice of inputs that vary between particles: its shared operations, and the IR of the rest."""

    def __init__(self, program: Program, varying: frozenset[str], width: int):
        self.width, self.operations = width, len(program.operations)
        scalar = [True] * program.size
        for name in varying:
            scalar[program.inputs[name]] = False
        self.steady: list[reference.Step] = []  # what all particles share and the time does not change
        self.shared: list[reference.Step] = []  # what they share at a time
        moving = [False] * program.size
        for name in TIME_INPUTS & program.inputs.keys():
            moving[program.inputs[name]] = True
        lanes: list[Operation] = []
        for op in program.operations:
            for o in op.outs:
                scalar[o] = all(scalar[a] for a in op.args)
                moving[o] = op.name == "guard" or any(moving[a] for a in op.args)  # a guard counts at every run
            if not scalar[op.outs[0]]:
                lanes.append(op)
            else:
                (self.shared if moving[op.outs[0]] else self.steady).append(reference.step(op, None))
        self.inputs = [name for name in program.inputs if name in varying]
        self.outputs = [name for name, value in program.outputs.items() if not scalar[value]]
        self.plain = [(name, value) for name, value in program.outputs.items() if scalar[value]]
        used = {a for op in lanes for a in op.args if scalar[a]}
        self.uniforms = sorted(used)
        self.structure = repr((program.structure, sorted(varying)))
        # the text is only written where no plan of this structure is known, but what stands around it is needed always
        self.emitter, self.text = self._emit(program, lanes, varying)
        self.function: Compiled | None = known_plan(self.structure, width)

    def _emit(self, program: Program, lanes: list[Operation], varying: frozenset[str]) -> tuple[Emitter, str]:
        b = Emitter(self.width)
        values: dict[int, Lanes] = {}

        def here(array: int, size: int) -> str:
            offset = b.scalar(f"mul i64 %i, {size}")
            return b.scalar(f"getelementptr i8, ptr %at{array}, i64 {offset}")

        for k, name in enumerate(self.inputs):
            size = 8 if name == "key" else 4
            values[program.inputs[name]] = b.load(here(k, size), "k" if name == "key" else "f", size)
        for k, value in enumerate(self.uniforms):
            values[value] = Lanes(b, f"%uniform{k}", "f")
        for op in lanes:
            results = OPERATIONS[op.name].ir(b, op, *(values[a] for a in op.args))
            values |= dict(zip(op.outs, results, strict=True))
        for k, name in enumerate(self.outputs):
            b.store(values[program.outputs[name]], here(len(self.inputs) + k, 4))
        lines = ["entry:", *(f"  {line}" for line in b.buffers)]
        n = 0

        def load(kind: str, base: str, index: int, into: str) -> None:
            nonlocal n
            lines.append(f"  %e{n} = getelementptr i8, ptr {base}, i64 {index * (4 if kind == 'float' else 8)}")
            lines.append(f"  {into} = load {kind}, ptr %e{n}")
            n += 1

        for k in range(len(self.inputs) + len(self.outputs)):
            load("ptr", "%arrays", k, f"%at{k}")
        for k in range(len(b.tables)):
            load("ptr", "%tables", k, f"%table{k}")
            load("i64", "%rows", k, f"%rows{k}")
        for k in range(len(self.uniforms)):
            load("float", "%uniforms", k, f"%one{k}")
            lines.append(f"  %some{k} = insertelement {b.type('f')} poison, float %one{k}, i32 0")
            lines.append(
                f"  %uniform{k} = shufflevector {b.type('f')} %some{k}, {b.type('f')} poison, <{self.width} x i32> "
                "zeroinitializer"
            )
        lines += [
            f"  %counted = trunc i64 %count to i{self.width}",
            "  br label %next",
            "next:",
            f"  %i = phi i64 [ %start, %entry ], [ %end, %{b.label if b.label != 'entry' else 'body'} ]",
            f"  %end = add i64 %i, {self.width}",
            "  %go = icmp sle i64 %end, %stop",
            "  br i1 %go, label %body, label %done",
            "body:",
        ]
        # phis that name the block they come from call the first one body, not entry
        body = [line.replace("%entry ]", "%body ]") for line in b.lines]
        head = (
            "define void @run(i64 %start, i64 %stop, ptr %arrays, ptr %uniforms, ptr %tables, ptr %rows, ptr %faults, "
            "i64 %count) {"
        )
        weights = '!0 = !{!"branch_weights", i32 1, i32 100000}'
        text = [*b.declared.values(), head, *lines, *body, "  br label %next", "done:", "  ret void", "}", weights]
        return b, "\n".join(text)


# machine code and what goes with it: about four kilobytes an operation, measured over the demo's programs
_layouts = PROCESS.region("machine code", 0.5, lambda layout: 16_384 + 4096 * layout.operations)


def layout_of(program: Program, varying: frozenset[str], width: int) -> Layout:
    """Return the layout of a program, the same for equal ones; programs of one structure share machine code."""
    return _layouts((program.structure, program.rows, varying, width), lambda: Layout(program, varying, width))


class NativePrepared(reference.Prepared):
    """A program prepared as machine code, with the methods of `reference.Prepared`. It is compiled at its first run,
    unless it is known."""

    def __init__(self, program: Program, width: int, threads: int):
        super().__init__(program)
        self.width, self.threads = width, threads
        self._layouts_built: dict[frozenset[str], Layout] = {}
        self.has_leaves = any(is_leaf(op) for op in program.operations)
        self._cuts: dict[frozenset[str], tuple[list[Segment], set[int], list[NativePrepared]] | None] = {}
        self._steady: dict[frozenset[str], tuple[Any, list[Any]]] = {}
        self._tables: dict[int, tuple[ProgramValues, Layout, list[np.ndarray], Any, np.ndarray]] = {}

    def run(
        self,
        values: ProgramValues,
        inputs: dict[str, Any],
        count: int,
        faults: Faults | None = None,
        block: int = 0,
        into: np.ndarray | None = None,
    ) -> dict[str, np.ndarray]:
        """Return each output as a float32 array of `count` values; see `reference.Prepared.run`."""
        program = self.program
        results = self._results(count, into)
        if count == 0:
            return results
        varying = frozenset(n for n in program.inputs if isinstance(inputs[n], np.ndarray))
        if self.has_leaves and (staged := self._staged(varying)) is not None:
            cuts, shared, parts = staged
            pool = _workers(self.threads) if self.threads > 1 and not block else None
            run_segments(
                cuts,
                shared,
                program,
                values,
                inputs,
                count,
                lambda k, given: parts[k].run(values, given, count, faults, block),
                results,
                pool,
                self.threads,
            )
            return results
        layout = self._layout_for(varying)
        slots = self._shared(layout, varying, values, inputs, count, faults)
        for name, value in layout.plain:
            results[name][:] = slots[value]
        if layout.outputs:
            self._lanes(layout, slots, values, inputs, results, count, faults, block)
        return results

    def _staged(self, varying: frozenset[str]) -> tuple[list[Segment], set[int], list[NativePrepared]] | None:
        """Return the segments of a program with array leaves, or None where all particles share their arguments."""
        if varying not in self._cuts:
            staged = None
            if leaves_of(self.program, varying):
                cuts, shared = split_at_leaves(self.program, varying)
                staged = (cuts, shared, [NativePrepared(each.program, self.width, self.threads) for each in cuts])
            self._cuts[varying] = staged
        return self._cuts[varying]

    def _shared(
        self,
        layout: Layout,
        varying: frozenset[str],
        values: ProgramValues,
        inputs: dict[str, Any],
        count: int,
        faults: Faults | None,
    ) -> list[Any]:
        run = Run(values, size=1, faults=None)
        given = {name: F32(inputs[name]) for name in self.program.inputs if name not in varying}
        exact = {self.program.inputs[name]: inputs[name] for name in given}
        steady_for = (id(values), tuple(value for name, value in given.items() if name not in TIME_INPUTS))
        with np.errstate(all="ignore"):
            known = self._steady.get(varying)
            if known is None or known[0] != steady_for:
                slots: list[Any] = [None] * self.program.size
                for name, scalar in given.items():
                    slots[self.program.inputs[name]] = scalar
                run.size, run.faults = count, faults
                run.exact = exact
                for step in layout.steady:
                    step(run, slots, _EMPTY_TABLE, 1)
                known = self._steady[varying] = (steady_for, slots)
            slots = list(known[1])
            for name in TIME_INPUTS & given.keys():
                slots[self.program.inputs[name]] = given[name]
            run.size, run.faults, run.exact = count, faults, exact
            keys = inputs.get("key")
            run.keys = keys if isinstance(keys, np.ndarray) else None
            for step in layout.shared:
                step(run, slots, _EMPTY_TABLE, 1)
        return slots

    def _run_time(self, layout: Layout, values: ProgramValues) -> tuple[Any, np.ndarray]:
        """Return pointers to the tables that the lanes read, and their numbers of rows; cached for the same values and
        layout."""
        known = self._tables.get(id(layout))
        if known is None or known[0] is not values:
            tables = [_table(values, group, slot) for group, slot in layout.emitter.tables]
            rows = np.array([len(table) for table in tables] or [0], np.int64)
            known = self._tables[id(layout)] = (values, layout, tables, _pointers(tables), rows)
        return known[3], known[4]

    def bound(
        self, values: ProgramValues, inputs: dict[str, Any], count: int, faults: Faults | None = None
    ) -> reference.Bound:
        """As `reference.Prepared.bound`. Thread-safe."""
        varying = frozenset(n for n in self.program.inputs if isinstance(inputs[n], np.ndarray))
        if count == 0 or (self.has_leaves and self._staged(varying) is not None):
            return super().bound(values, inputs, count, faults)
        layout = self._layout_for(varying)
        slots = self._shared(layout, varying, values, inputs, count, faults)
        call, keys = self._machine_code(layout, slots, values), inputs.get("key")
        row = {name: k for k, name in enumerate(self.program.outputs)}
        plain = [(row[name], slots[value]) for name, value in layout.plain]
        places = [row[name] for name in layout.outputs]
        arrays = _inputs(layout, inputs)
        given = [_address(a) for a in arrays]

        def span(start: int, stop: int, into: np.ndarray, faults: Faults | None) -> None:
            for k, value in plain:
                into[k, reference.MARGIN : reference.MARGIN + stop - start] = value
            if not places or start >= stop:
                return
            first, step = _address(into) + 4 * (reference.MARGIN - start), into.strides[0]
            pointers = (ctypes.c_void_p * (len(arrays) + len(places)))(*given, *(first + step * k for k in places))
            noted = call(start, stop, pointers)
            if faults is not None:
                _record_faults(layout.emitter.guards, noted, keys, faults)

        if count >= self.width:
            return span
        return super().bound(values, inputs, count, faults)

    def _layout_for(self, varying: frozenset[str]) -> Layout:
        layout = self._layouts_built.get(varying)
        if layout is None:
            layout = self._layouts_built[varying] = layout_of(self.program, varying, self.width)
        return layout

    def _machine_code(
        self, layout: Layout, slots: list[Any], values: ProgramValues
    ) -> Callable[[int, int, Any], list[np.ndarray]]:
        """Return a function that runs a layout's lanes from start to stop over pointers to inputs and outputs, each
        with room for at least one vector; it returns what guards noted."""
        if layout.function is None:
            layout.function = compile_plan(layout.structure, self.width, layout.text)
        function = layout.function
        call, width, guards = function.call, self.width, max(1, len(layout.emitter.guards))
        uniforms = np.array([slots[value] for value in layout.uniforms] or [0], F32)
        tables, rows = self._run_time(layout, values)
        row_pointer, uniform_pointer = rows.ctypes.data, uniforms.ctypes.data

        def part(start: int, stop: int, pointers: Any, counted: int) -> np.ndarray:
            mine = np.empty((guards, 2), np.int64)
            mine[:, 0], mine[:, 1] = 0, NO_PARTICLE
            call(start, stop, pointers, uniform_pointer, tables, row_pointer, mine.ctypes.data, counted)
            return mine

        def lanes(start: int, stop: int, pointers: Any, kept: tuple[Any, ...] = (uniforms, rows)) -> list[np.ndarray]:
            rest, started = (stop - start) % width, time.perf_counter()
            noted = [part(start, stop - rest, pointers, -1)] if stop - rest > start else []
            if (
                rest
            ):  # a whole vector all the same, over some before too: same inputs, same results; only the rest is counted
                at = max(0, stop - width)
                noted.append(part(at, at + width, pointers, ((1 << rest) - 1) << (stop - rest - at)))
            function.record_run(time.perf_counter() - started)
            return noted

        return lanes

    def _lanes(
        self,
        layout: Layout,
        slots: list[Any],
        values: ProgramValues,
        inputs: dict[str, Any],
        results: dict[str, np.ndarray],
        count: int,
        faults: Faults | None,
        block: int,
    ) -> None:
        call, width = self._machine_code(layout, slots, values), self.width
        arrays = _inputs(layout, inputs)
        outs = [results[name] for name in layout.outputs]
        if count >= width:
            pointers = _pointers([*arrays, *outs])
            spans = self._spans(count, block)
            if len(spans) == 1 or block:
                noted = [each for start, stop in spans for each in call(start, stop, pointers)]
            else:
                noted = [
                    each
                    for notes in _workers(self.threads).map(lambda span: call(span[0], span[1], pointers), spans)
                    for each in notes
                ]
        else:
            few = [np.concatenate([a, np.repeat(a[-1:], width - count)]) for a in arrays]
            room = [np.empty(width, F32) for _ in outs]
            noted = call(0, count, _pointers([*few, *room]))
            for out, buffer in zip(outs, room, strict=True):
                out[:] = buffer[:count]
        if faults is not None:
            _record_faults(layout.emitter.guards, noted, inputs.get("key"), faults)

    def _spans(self, count: int, block: int) -> list[tuple[int, int]]:
        if block:
            size = max(self.width, block // self.width * self.width)
        else:
            parts = max(1, min(self.threads, count // MIN_PARTICLES_PER_THREAD))
            size = -(-count // parts // self.width) * self.width
        return [(start, min(count, start + size)) for start in range(0, count, size)]


def _inputs(layout: Layout, inputs: dict[str, Any]) -> list[np.ndarray]:
    return [np.ascontiguousarray(inputs[name], np.uint64 if name == "key" else F32) for name in layout.inputs]


_EMPTY_TABLE = np.empty((0, 1), F32)


def _table(values: ProgramValues, group: str, slot: int) -> np.ndarray:
    if group == "curve":
        return values.curves[slot]
    if group == "gradient":
        return values.gradients[slot]
    if group == "seed":
        return np.array([values.seeds[slot]], np.uint64)
    return lattice_offsets(values.seeds[slot])


def _pointers(arrays: list[np.ndarray]) -> Any:
    return (ctypes.c_void_p * max(1, len(arrays)))(*map(_address, arrays))


def _address(array: np.ndarray) -> int:
    # by far the quickest way to an address, for an array that can be written and is in one piece
    if array.flags.writeable and array.size:
        return ctypes.addressof(ctypes.c_char.from_buffer(array.data))
    return int(array.__array_interface__["data"][0])


def _record_faults(rows: list[str], noted: list[np.ndarray], keys: Any, faults: Faults) -> None:
    totals = noted[0][:, 0] if len(noted) == 1 else np.sum([part[:, 0] for part in noted], axis=0)
    if not totals.any():
        return
    for k, row in enumerate(rows):
        count = int(totals[k])
        if count:
            first = min(int(part[k, 1]) for part in noted)
            faults.note(row, count, int(keys[first]) if isinstance(keys, np.ndarray) else -1)
