"""A program: operations in single assignment over float32 scalars per particle; vectors are three of them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ..errors import BudgetError
from ..wanted import spend

Attr = int | float | str


class Slot(int):
    """Where a run-time value stands among those of its group (params, curves, gradients, seeds, ...) in `PlanValues`."""

    group: str

    def __new__(cls, group: str, place: int) -> Slot:
        made = super().__new__(cls, place)
        made.group = group
        return made


@dataclass(frozen=True)
class Operation:
    """name(args; attrs) -> outs, and the row it came from. Values are numbered; each is written once."""

    name: str
    args: tuple[int, ...]
    attrs: tuple[Attr, ...]
    outs: tuple[int, ...]
    row: str


@dataclass(frozen=True)
class Program:
    """inputs and outputs by name; only what the outputs need, in an order in which it can be computed."""

    inputs: dict[str, int]
    operations: tuple[Operation, ...]
    outputs: dict[str, int]
    size: int

    @cached_property
    def structure(self) -> str:
        """A text equal for programs that do the same to their inputs and values, whatever the values are."""
        lines = [f"{op.name}{op.args}{op.attrs}{op.outs}" for op in self.operations]
        return repr((sorted(self.inputs.items()), lines, sorted(self.outputs.items())))

    @cached_property
    def rows(self) -> tuple[str, ...]:
        """The row each operation came from: with the structure, all that programs can differ in."""
        return tuple(op.row for op in self.operations)


MOST_OPERATIONS = 60_000  # of one program; the largest of the demo has some 900


class Builder:
    """Collects operations, giving equal ones one value; `finish` keeps what the outputs need."""

    def __init__(self) -> None:
        self.inputs: dict[str, int] = {}
        self._operations: list[Operation] = []
        self._known: dict[tuple[str, tuple[int, ...], tuple[Attr, ...]], tuple[int, ...]] = {}
        self._size = 0
        self.row = ""
        self.masks: dict[tuple[str, tuple[int, ...], int], int] = {}  # values of masks by uid, point and time

    def input(self, name: str) -> int:
        if name not in self.inputs:
            self.inputs[name] = self._new()
        return self.inputs[name]

    def op(self, name: str, *args: int, attrs: tuple[Attr, ...] = ()) -> int:
        return self.multi(name, *args, attrs=attrs, outs=1)[0]

    def multi(self, name: str, *args: int, attrs: tuple[Attr, ...] = (), outs: int) -> tuple[int, ...]:
        known = (name, args, attrs)
        if known not in self._known:
            if len(self._operations) >= MOST_OPERATIONS:
                words = f"One particle would need more than {MOST_OPERATIONS:,} operations a step."
                raise BudgetError(words, where=self.row, remedy="Join fewer masks and formulas, or let several rows read one own attribute.")
            if len(self._operations) % 256 == 0:
                spend(256)
            values = tuple(self._new() for _ in range(outs))
            self._operations.append(Operation(name, args, attrs, values, self.row))
            self._known[known] = values
        return self._known[known]

    def const(self, value: float) -> int:
        return self.op("const", attrs=(float(value),))

    def finish(self, outputs: dict[str, int]) -> Program:
        needed = set(outputs.values())
        kept = []
        for operation in reversed(self._operations):
            if needed.intersection(operation.outs):
                kept.append(operation)
                needed.update(operation.args)
        numbers: dict[int, int] = {}
        inputs = {name: numbers.setdefault(value, len(numbers)) for name, value in self.inputs.items() if value in needed}
        operations = []
        for operation in reversed(kept):
            args = tuple(numbers[a] for a in operation.args)
            outs = tuple(numbers.setdefault(o, len(numbers)) for o in operation.outs)
            operations.append(Operation(operation.name, args, operation.attrs, outs, operation.row))
        return Program(inputs, tuple(operations), {name: numbers[v] for name, v in outputs.items()}, len(numbers))

    def _new(self) -> int:
        self._size += 1
        return self._size - 1
