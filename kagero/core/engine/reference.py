"""The reference engine: one small NumPy function for each operation, over blocks of particles.

Values that all particles share stay scalars. Buffers are reused after the last read of their value, so that a block
stays in the processor's cache.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..program import Operation, Program, ProgramValues
from .operations import OPERATIONS
from .operations.fields import guard
from .run_state import F32, Faults, Run, full

ENGINE = f"reference numpy {np.__version__}"
BLOCK = 16_384

MARGIN = 16  # columns on each side of what a bound program writes: lanes may write there

# start, stop, (outputs, stop - start + 2 MARGIN or more) float32 to write into, a row an output; where faults go
Bound = Callable[[int, int, np.ndarray, Faults | None], None]
Step = Callable[[Run, list[Any], np.ndarray, int], None]  # run, slots, buffers, block size


class Prepared:
    """A program prepared to run: which values are scalars, and which buffer each other value uses.

    precision: float32 for particles; float64 for what reads only clip time: rates, and prop transforms. has_leaves:
    whether parts of it run over all particles at a time.
    """

    has_leaves = False

    def __init__(self, program: Program, precision: type = F32):
        self.program, self.precision = program, precision
        self._layouts: dict[frozenset[str], tuple[list[Step], list[Step], int]] = {}
        self._acts: list[tuple[Operation, Step]] = []

    def run(
        self,
        values: ProgramValues,
        inputs: dict[str, Any],
        count: int,
        faults: Faults | None = None,
        block: int = BLOCK,
        into: np.ndarray | None = None,
    ) -> dict[str, np.ndarray]:
        """Return each output as an array of `count` values, float32 unless prepared otherwise.

        inputs: by name, (count,) arrays (float32; float64 for times; uint64 for `key`), or a number where all particles
        share it. into: (outputs, count or more), where to write the outputs, one a row, in the program's order. Results
        do not depend on `block`. Replaced results that were not finite are counted in `faults`.
        """
        program = self.program
        precision = self.precision
        results = self._results(count, into)
        if count == 0:
            return results
        shared, steps, buffers = self._layout(frozenset(n for n in program.inputs if isinstance(inputs[n], np.ndarray)))
        pool: np.ndarray = np.empty((buffers, min(block, count)), precision)
        run = Run(values, size=1, faults=faults)
        keys = inputs.get("key")
        slots: list[Any] = [None] * program.size
        for name, value in program.inputs.items():
            if not isinstance(inputs[name], np.ndarray):
                run.exact[value], slots[value] = inputs[name], precision(inputs[name])
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
                        run.exact[value] = slots[value] = given[start:stop]
                        if given.dtype == np.float64:
                            slots[value] = given[start:stop].astype(precision, copy=False)
                run.keys = keys[start:stop] if isinstance(keys, np.ndarray) else None
                for act in steps:
                    act(run, slots, pool, run.size)
                for name, value in program.outputs.items():
                    results[name][start:stop] = slots[value]
        return results

    def bound(self, values: ProgramValues, inputs: dict[str, Any], count: int, faults: Faults | None = None) -> Bound:
        """Return a function that runs the program for some of `count` particles; shared values are computed once, and
        their faults counted in `faults`."""

        def span(start: int, stop: int, into: np.ndarray, faults: Faults | None) -> None:
            mine = {
                name: given[start:stop] if isinstance(given, np.ndarray) else given for name, given in inputs.items()
            }
            self.run(values, mine, stop - start, faults, into=into[:, MARGIN:])

        return span

    def _results(self, count: int, into: np.ndarray | None) -> dict[str, np.ndarray]:
        room: np.ndarray = (
            np.empty((len(self.program.outputs), count), self.precision) if into is None else into[:, :count]
        )
        return dict(zip(self.program.outputs, room, strict=True))

    def timed(
        self, values: ProgramValues, inputs: dict[str, Any], count: int, clock: Callable[[], float]
    ) -> dict[str, float]:
        """Return the time of each row's operations, by the row's address, in the clock's unit, for one block of
        `count`."""
        shared, steps, buffers = self._layout(
            frozenset(n for n in self.program.inputs if isinstance(inputs[n], np.ndarray))
        )
        pool: np.ndarray = np.empty((buffers, count), F32)
        run = Run(values, size=count)
        slots: list[Any] = [None] * self.program.size
        for name, value in self.program.inputs.items():
            run.exact[value] = given = inputs[name]
            slots[value] = (
                self.precision(given) if not isinstance(given, np.ndarray) or given.dtype == np.float64 else given
            )
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
        """Return the steps for shared values, those for the rest, and the number of buffers these need."""
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
            act = step(op, None if together else [buffer_of[o] for o in op.outs], self.precision)
            (shared if together else steps).append(act)
            self._acts.append((op, act))
        known = self._layouts[varying] = (shared, steps, used)
        return known


def step(op: Operation, buffers: list[int] | None, precision: type = F32) -> Step:
    """Return a closure that runs one operation; without buffers, its result is one number that all particles share."""
    name, args, out = op.name, op.args, op.outs[0]
    if name == "param":
        slot = int(op.attrs[0])

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            slots[out] = precision(run.values.params[slot])

    elif name == "const":
        constant = precision(op.attrs[0])

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            slots[out] = constant

    elif name == "guard":

        def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
            target = None if buffers is None else pool[buffers[0], :n]
            slots[out] = guard(run, op, slots[args[0]], slots[args[1]], target)

    else:
        entry = OPERATIONS[name]
        function = entry.numpy
        if not entry.whole:

            def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
                target = None if buffers is None else pool[buffers[0], :n]
                slots[out] = function(*[slots[a] for a in args], target)

        elif buffers is None:  # all particles share its arguments

            def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
                small: list[np.ndarray] = [np.empty(1, precision) for _ in op.outs]
                function(run, op, [full(slots[a], 1) for a in args], small)
                for o, value in zip(op.outs, small, strict=True):
                    slots[o] = precision(value[0])

        else:

            def act(run: Run, slots: list[Any], pool: np.ndarray, n: int) -> None:
                targets = [pool[b, :n] for b in buffers]
                function(run, op, [slots[a] for a in args], targets)
                for o, target in zip(op.outs, targets, strict=True):
                    slots[o] = target

    return act
