"""Programs split at array leaves: lanes run up to a leaf, then the leaf runs over all particles, then the lanes after
it."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Executor
from dataclasses import dataclass
from typing import Any

import numpy as np

from ...program import Operation, Program, ProgramValues
from ..operations import LEAF, OPERATIONS
from ..run_state import F32, Run

LEAF_BLOCK = 4_096  # particles a thread takes of a leaf


@dataclass(frozen=True)
class Segment:
    """A part of a split program: lanes as a program of its own, then leaves."""

    program: Program
    leaves: tuple[Operation, ...]


def is_leaf(op: Operation) -> bool:
    """Return whether an operation is a function of whole arrays, without IR."""
    entry = OPERATIONS.get(op.name)
    return entry is not None and entry.ir is LEAF


def leaves_of(program: Program, varying: frozenset[str]) -> set[int]:
    """Return the array leaves whose arguments vary between particles, by position."""
    alike = _uniform_values(program, varying)
    return {i for i, op in enumerate(program.operations) if is_leaf(op) and not all(alike[a] for a in op.args)}


def _uniform_values(program: Program, varying: frozenset[str]) -> list[bool]:
    alike = [True] * program.size
    for name in varying:
        alike[program.inputs[name]] = False
    for op in program.operations:
        for o in op.outs:
            alike[o] = all(alike[a] for a in op.args)
    return alike


def split_at_leaves(program: Program, varying: frozenset[str]) -> tuple[list[Segment], set[int]]:
    """Return a program's segments in order, and the values that all particles share. Value `k` is passed between
    segments as `~k`."""
    leaves, alike = leaves_of(program, varying), _uniform_values(program, varying)
    level = [0] * program.size
    at: list[int] = []
    for i, op in enumerate(program.operations):
        here = max((level[a] for a in op.args), default=0)
        at.append(here)
        for o in op.outs:
            level[o] = here + (i in leaves)
    last = max(level, default=0)
    named = {value: name for name, value in program.inputs.items()}
    parts = [[op for i, op in enumerate(program.operations) if at[i] == k and i not in leaves] for k in range(last + 1)]
    after = [[program.operations[i] for i in sorted(leaves) if at[i] == k] for k in range(last + 1)]
    read = [{a for op in (*parts[k], *after[k]) for a in op.args} for k in range(last + 1)]
    cuts = []
    for k in range(last + 1):
        mine = {o for op in parts[k] for o in op.outs}
        later = set().union(*read[k + 1 :], program.outputs.values()) | {a for op in after[k] for a in op.args}
        inputs = {}
        for value in sorted({a for op in parts[k] for a in op.args} - mine):
            inputs[named.get(value, f"~{value}")] = value
        outputs = {f"~{value}": value for value in sorted(mine & later)}
        cuts.append(Segment(Program(inputs, tuple(parts[k]), outputs, program.size), tuple(after[k])))
    return cuts, {value for value in range(program.size) if alike[value]}


def run_segments(
    cuts: list[Segment],
    shared: set[int],
    program: Program,
    values: ProgramValues,
    inputs: dict[str, Any],
    count: int,
    lanes: Callable[[int, dict[str, Any]], dict[str, np.ndarray]],
    results: dict[str, np.ndarray],
    pool: Executor | None,
    threads: int,
) -> None:
    """Write the outputs into results. lanes: runs the program of segment k."""
    known: dict[int, Any] = {value: inputs[name] for name, value in program.inputs.items()}
    for k, each in enumerate(cuts):
        given = {name: known[value] for name, value in each.program.inputs.items()}
        if "key" in inputs:  # whom faults name
            given["key"] = inputs["key"]
        if each.program.outputs:
            for name, computed in lanes(k, given).items():
                value = int(name[1:])
                known[value] = F32(computed[0]) if value in shared else computed
        for op in each.leaves:
            outs = [np.empty(count, F32) for _ in op.outs]
            _leaf(op, values, [known[a] for a in op.args], outs, count, pool, threads)
            known |= dict(zip(op.outs, outs, strict=True))
    for name, value in program.outputs.items():
        results[name][:] = known[value]


def _leaf(
    op: Operation,
    values: ProgramValues,
    args: list[Any],
    outs: list[np.ndarray],
    count: int,
    pool: Executor | None,
    threads: int,
) -> None:
    function = OPERATIONS[op.name].numpy

    def part(start: int) -> None:
        stop = min(count, start + size)
        mine = [a[start:stop] if isinstance(a, np.ndarray) else a for a in args]
        function(
            Run(values, size=stop - start), op, mine, [out[start:stop] for out in outs]
        )  # times are as they were given

    size = count if pool is None or count < 2 * LEAF_BLOCK else max(LEAF_BLOCK, -(-count // (4 * threads)))
    starts = range(0, count, max(1, size))
    with np.errstate(all="ignore"):
        if pool is None or len(starts) == 1:
            for start in starts:
                part(start)
        else:
            list(pool.map(part, starts))
