"""Programs: operations in single assignment form on float32 scalars for each particle; a vector is three scalars."""

from __future__ import annotations

import hashlib
from collections.abc import Hashable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..errors import BudgetError
from ..work_limits import spend
from .operations import SIGNATURES
from .slots import Handle, Slot, SlotTable
from .values import ProgramValues

Attr = Handle | int | float


@dataclass(frozen=True)
class Operation:
    """name(args; attrs) -> outs, and the address of the row it came from. Values are numbered; each is written once."""

    name: str
    args: tuple[int, ...]
    attrs: tuple[Attr, ...]
    outs: tuple[int, ...]
    row: str


@dataclass(frozen=True)
class Program:
    """A program: inputs and outputs by name, and only the operations that the outputs need, in an executable order."""

    inputs: dict[str, int]
    operations: tuple[Operation, ...]
    outputs: dict[str, int]
    size: int

    @cached_property
    def structure(self) -> str:
        """A text that is equal for programs that perform the same operations on their inputs and values, whatever the
        values."""
        lines = [f"{op.name}{op.args}{op.attrs}{op.outs}" for op in self.operations]
        return repr((sorted(self.inputs.items()), lines, sorted(self.outputs.items())))

    @cached_property
    def rows(self) -> tuple[str, ...]:
        """The row each operation came from; with the structure, all that equal programs can differ in."""
        return tuple(op.row for op in self.operations)

    @cached_property
    def prepared(self) -> dict[Any, Any]:
        """What others have prepared from it, by their own keys; kept as long as the program."""
        return {}


def digest(values: ProgramValues, programs: Iterable[Program], also: object = ()) -> str:
    """Return a content hash of programs, the values they read, and anything else given."""
    h = hashlib.blake2b(digest_size=16)
    h.update(repr(also).encode())
    for program in programs:
        h.update(program.structure.encode())
        for op in program.operations:
            for attr in op.attrs:
                if isinstance(attr, Handle):
                    h.update(_bytes(attr.group, getattr(values, attr.group)[attr]))
    return h.hexdigest()


def _bytes(group: str, value: Any) -> bytes:
    if group == "params":
        return np.float32(value).tobytes()
    return value.to_bytes(8, "little") if group == "seeds" else value.tobytes() + b"|"


MOST_OPERATIONS = 60_000  # of one program; the largest of the demo has some 900


class Builder:
    """Collects operations and merges equal ones; `finish` keeps what the outputs need.

    slots: table of the values that its programs read; several programs of one thing share one. row: address of the row
    being written, for errors and costs. written: what has been compiled already, by its own key. longer: factor of
    MOST_OPERATIONS that it may have.
    """

    def __init__(self, slots: SlotTable[Any] | None = None, longer: int = 1) -> None:
        self.longer = longer
        self.slots: SlotTable[Any] = slots if slots is not None else SlotTable()
        self.inputs: dict[str, int] = {}
        self.row = ""
        self.written: dict[Hashable, int] = {}
        self._operations: list[Operation] = []
        self._known: dict[tuple[str, tuple[int, ...], tuple[Attr, ...]], tuple[int, ...]] = {}
        self._size = 0

    def input(self, name: str) -> int:
        """Return the value that a run is given under a name."""
        if name not in self.inputs:
            self.inputs[name] = self._new()
        return self.inputs[name]

    def op(self, name: str, *args: int, attrs: tuple[Slot[Any] | Attr, ...] = ()) -> int:
        """Return the first result of an operation."""
        return self.multi(name, *args, attrs=attrs)[0]

    def multi(self, name: str, *args: int, attrs: tuple[Slot[Any] | Attr, ...] = ()) -> tuple[int, ...]:
        """Return all results of an operation. Raises BudgetError when the program grows too long."""
        beside = tuple(self.slots.handle(attr) if isinstance(attr, Slot) else attr for attr in attrs)
        known = (name, args, beside)
        if known not in self._known:
            signature = SIGNATURES[name]
            assert signature.takes(len(args)) and len(beside) == len(signature.beside), f"{name} takes {signature}"
            assert all(
                getattr(attr, "group", kind) == kind for attr, kind in zip(beside, signature.beside, strict=True)
            ), (name, beside)
            if len(self._operations) >= self.longer * MOST_OPERATIONS:
                words = f"One particle would need more than {self.longer * MOST_OPERATIONS:,} operations a step."
                raise BudgetError(
                    words,
                    where=self.row,
                    remedy="Join fewer masks and formulas, or let several rows read one own attribute.",
                )
            if len(self._operations) % 256 == 0:
                spend(256)
            values = tuple(self._new() for _ in range(signature.outs))
            self._operations.append(Operation(name, args, beside, values, self.row))
            self._known[known] = values
        return self._known[known]

    def const(self, value: float) -> int:
        return self.op("const", attrs=(float(value),))

    def param(self, slot: Slot[Any]) -> int:
        """Return a number that is read when the program runs."""
        return self.op("param", attrs=(slot,))

    def finish(self, outputs: dict[str, int]) -> Program:
        """Return the program with the given outputs by name."""
        needed = set(outputs.values())
        kept = []
        for operation in reversed(self._operations):
            if needed.intersection(operation.outs):
                kept.append(operation)
                needed.update(operation.args)
        numbers: dict[int, int] = {}
        inputs = {
            name: numbers.setdefault(value, len(numbers)) for name, value in self.inputs.items() if value in needed
        }
        operations = []
        for operation in reversed(kept):
            args = tuple(numbers[a] for a in operation.args)
            outs = tuple(numbers.setdefault(o, len(numbers)) for o in operation.outs)
            operations.append(Operation(operation.name, args, operation.attrs, outs, operation.row))
        return Program(inputs, tuple(operations), {name: numbers[v] for name, v in outputs.items()}, len(numbers))

    def _new(self) -> int:
        self._size += 1
        return self._size - 1
