"""Runs a program as machine code: what all particles share is computed as the reference engine does, the rest in lanes."""

from __future__ import annotations

import ctypes
import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np

from ...kernels.noise import lattice_offsets
from ...memory import PROCESS
from ...program import Operation, Program, ProgramValues
from .. import reference
from ..ir import Emitter, Lanes
from ..operations import OPERATIONS
from ..running import F32, Faults, Run
from .machine import Compiled, compile_plan, known_plan
from .staged import Cut, cut, is_leaf, leaves_of, run_cuts

NOBODY = np.iinfo(np.int64).max
APIECE = 16_384  # particles below which a second thread costs more than it saves
_pool: ThreadPoolExecutor | None = None
_pool_lock = threading.Lock()


def _workers(threads: int) -> ThreadPoolExecutor:
    global _pool
    with _pool_lock:
        if _pool is None or _pool._max_workers < threads:
            _pool = ThreadPoolExecutor(threads, thread_name_prefix="particles")
        return _pool


class Layout:
    """A program for one choice of which inputs differ between particles: shared operations, and the IR of the rest."""

    def __init__(self, program: Program, varying: frozenset[str], width: int):
        self.width, self.operations = width, len(program.operations)
        scalar = [True] * program.size
        for name in varying:
            scalar[program.inputs[name]] = False
        self.steady: list[reference.Step] = []  # what all particles share and the time does not change
        self.shared: list[reference.Step] = []  # what they share at a time
        moving = [False] * program.size
        if "time" in program.inputs:
            moving[program.inputs["time"]] = True
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
            lines.append(f"  %uniform{k} = shufflevector {b.type('f')} %some{k}, {b.type('f')} poison, <{self.width} x i32> zeroinitializer")
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
        head = "define void @run(i64 %start, i64 %stop, ptr %arrays, ptr %uniforms, ptr %tables, ptr %rows, ptr %faults, i64 %count) {"
        weights = '!0 = !{!"branch_weights", i32 1, i32 100000}'
        text = [*b.declared.values(), head, *lines, *body, "  br label %next", "done:", "  ret void", "}", weights]
        return b, "\n".join(text)


# machine code and what goes with it: about four kilobytes an operation, measured over the demo's programs
_layouts = PROCESS.shelf("machine code", 0.5, lambda layout: 16_384 + 4096 * layout.operations)


def layout_of(program: Program, varying: frozenset[str], width: int) -> Layout:
    """Return the layout of a program, the same for equal ones; machine code is shared by all of one structure."""
    return _layouts((program.structure, program.rows, varying, width), lambda: Layout(program, varying, width))


class NativePrepared(reference.Prepared):
    """A program ready to run as machine code; the same calls as `reference.Prepared`. Compiles at its first run, unless known."""

    def __init__(self, program: Program, width: int, threads: int):
        super().__init__(program)
        self.width, self.threads = width, threads
        self._made: dict[frozenset[str], Layout] = {}
        self._has_leaves = any(is_leaf(op) for op in program.operations)
        self._cuts: dict[frozenset[str], tuple[list[Cut], set[int], list[NativePrepared]] | None] = {}
        self._steady: dict[frozenset[str], tuple[Any, list[Any]]] = {}
        self._tables: dict[int, tuple[ProgramValues, Layout, list[np.ndarray], Any, np.ndarray]] = {}

    def run(self, values: ProgramValues, inputs: dict[str, Any], count: int, faults: Faults | None = None, block: int = 0) -> dict[str, np.ndarray]:
        """Return each output as a float32 array of `count` values; see `reference.Prepared.run`."""
        program = self.program
        results = {name: np.empty(count, F32) for name in program.outputs}
        if count == 0:
            return results
        varying = frozenset(n for n in program.inputs if isinstance(inputs[n], np.ndarray))
        if self._has_leaves and (staged := self._staged(varying)) is not None:
            cuts, shared, parts = staged
            pool = _workers(self.threads) if self.threads > 1 and not block else None
            return run_cuts(cuts, shared, program, values, inputs, count, lambda k, given: parts[k].run(values, given, count, faults, block), pool,
                            self.threads)  # fmt: skip
        layout = self._made.get(varying)
        if layout is None:
            layout = self._made[varying] = layout_of(program, varying, self.width)
        slots = self._shared(layout, varying, values, inputs, count, faults)
        for name, value in layout.plain:
            results[name][:] = slots[value]
        if layout.outputs:
            self._lanes(layout, slots, values, inputs, results, count, faults, block)
        return results

    def _staged(self, varying: frozenset[str]) -> tuple[list[Cut], set[int], list[NativePrepared]] | None:
        """Return the cuts of a program with leaves over arrays, None where all particles share what these are given."""
        if varying not in self._cuts:
            made = None
            if leaves_of(self.program, varying):
                cuts, shared = cut(self.program, varying)
                made = (cuts, shared, [NativePrepared(each.program, self.width, self.threads) for each in cuts])
            self._cuts[varying] = made
        return self._cuts[varying]

    def _shared(self, layout: Layout, varying: frozenset[str], values: ProgramValues, inputs: dict[str, Any], count: int,
                faults: Faults | None) -> list[Any]:  # fmt: skip
        run = Run(values, size=1, faults=None)
        given = {name: F32(inputs[name]) for name in self.program.inputs if name not in varying}
        exact = {self.program.inputs[name]: inputs[name] for name in given}
        steady_for = (id(values), tuple(value for name, value in given.items() if name != "time"))
        with np.errstate(all="ignore"):
            known = self._steady.get(varying)
            if known is None or known[0] != steady_for:
                slots: list[Any] = [None] * self.program.size
                for name, scalar in given.items():
                    slots[self.program.inputs[name]] = scalar
                run.size, run.faults = count, faults
                run.exact = exact
                for step in layout.steady:
                    step(run, slots, _NOTHING, 1)
                known = self._steady[varying] = (steady_for, slots)
            slots = list(known[1])
            if "time" in given:
                slots[self.program.inputs["time"]] = given["time"]
            run.size, run.faults, run.exact = count, faults, exact
            keys = inputs.get("key")
            run.keys = keys if isinstance(keys, np.ndarray) else None
            for step in layout.shared:
                step(run, slots, _NOTHING, 1)
        return slots

    def _run_time(self, layout: Layout, values: ProgramValues) -> tuple[Any, np.ndarray]:
        """Return pointers to the tables that the lanes read, and their rows; kept as long as values and layout are the same."""
        known = self._tables.get(id(layout))
        if known is None or known[0] is not values:
            tables = [_table(values, group, slot) for group, slot in layout.emitter.tables]
            rows = np.array([len(table) for table in tables] or [0], np.int64)
            known = self._tables[id(layout)] = (values, layout, tables, _pointers(tables), rows)
        return known[3], known[4]

    def _lanes(self, layout: Layout, slots: list[Any], values: ProgramValues, inputs: dict[str, Any], results: dict[str, np.ndarray],
               count: int, faults: Faults | None, block: int) -> None:  # fmt: skip
        if layout.function is None:
            layout.function = compile_plan(layout.structure, self.width, layout.text)
        layout.function.used()
        call, width = layout.function.call, self.width
        arrays = [np.ascontiguousarray(inputs[name], np.uint64 if name == "key" else F32) for name in layout.inputs]
        outs = [results[name] for name in layout.outputs]
        uniforms = np.array([slots[value] for value in layout.uniforms] or [0], F32)
        table_pointers, rows = self._run_time(layout, values)
        row_pointer, uniform_pointer = rows.ctypes.data, uniforms.ctypes.data
        noted: list[np.ndarray] = []

        def part(start: int, stop: int, array_pointers: Any, counted: int = -1) -> None:
            mine = np.empty((max(1, len(layout.emitter.guards)), 2), np.int64)
            mine[:, 0], mine[:, 1] = 0, NOBODY
            call(start, stop, array_pointers, uniform_pointer, table_pointers, row_pointer, mine.ctypes.data, counted)
            noted.append(mine)

        if count >= width:
            whole = count - count % width
            pointers = _pointers([*arrays, *outs])
            spans = self._spans(whole, block)
            if len(spans) == 1 or block:
                for start, stop in spans:
                    part(start, stop, pointers)
            else:
                list(_workers(self.threads).map(lambda span: part(span[0], span[1], pointers), spans))
            if count % width:  # the last lanes once more with the rest: same inputs, same results; only the rest is counted
                part(count - width, count, pointers, -1 << (width - count % width))
        else:
            few = [np.concatenate([a, np.repeat(a[-1:], width - count)]) for a in arrays]
            room = [np.empty(width, F32) for _ in outs]
            part(0, width, _pointers([*few, *room]), (1 << count) - 1)
            for out, made in zip(outs, room, strict=True):
                out[:] = made[:count]
        if faults is not None:
            _note(layout.emitter.guards, noted, inputs.get("key"), faults)

    def _spans(self, whole: int, block: int) -> list[tuple[int, int]]:
        if block:
            size = max(self.width, block // self.width * self.width)
        else:
            parts = max(1, min(self.threads, whole // APIECE))
            size = -(-whole // parts // self.width) * self.width
        return [(start, min(whole, start + size)) for start in range(0, whole, size)]


_NOTHING = np.empty((0, 1), F32)


def _table(values: ProgramValues, group: str, slot: int) -> np.ndarray:
    if group == "curve":
        return values.curves[slot]
    if group == "gradient":
        return values.gradients[slot]
    if group == "seed":
        return np.array([values.seeds[slot]], np.uint64)
    return lattice_offsets(values.seeds[slot])


def _pointers(arrays: list[np.ndarray]) -> Any:
    return (ctypes.c_void_p * max(1, len(arrays)))(*(a.__array_interface__["data"][0] for a in arrays))


def _note(rows: list[str], noted: list[np.ndarray], keys: Any, faults: Faults) -> None:
    totals = noted[0][:, 0] if len(noted) == 1 else np.sum([part[:, 0] for part in noted], axis=0)
    if not totals.any():
        return
    for k, row in enumerate(rows):
        count = int(totals[k])
        if count:
            first = min(int(part[k, 1]) for part in noted)
            faults.note(row, count, int(keys[first]) if isinstance(keys, np.ndarray) else -1)
