"""An operation's computation: its NumPy function, and its IR or leaf. Its signature is in `program`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from ...program import Operation
    from ..ir import Emitter, Lanes

# (emitter, operation, *arguments) -> results
Ir = Callable[..., "list[Lanes]"]


def LEAF(*args: Any) -> list[Lanes]:
    """Placeholder for the IR of array leaves: the native engine calls their NumPy function between two runs of
    lanes."""
    raise AssertionError("a leaf over arrays has no lanes")


@dataclass(frozen=True)
class Entry:
    """One operation.

    numpy: function(*arguments, out) -> result, element by element; or where `whole`, function(run, operation,
    arguments, outs), for operations with several results or run-time values. It defines the operation. ir: the same for
    lanes. ulp, near: the native engine's tolerance, in units in the last place, and an absolute one besides.
    """

    numpy: Callable[..., Any]
    ir: Ir
    whole: bool = False
    ulp: int = 0
    near: float = 0.0


def leaf(name: str, outs: int) -> Ir:
    """Return the IR that calls a noise leaf (`native/leaves.py`)."""

    def call(b: Emitter, op: Operation, *args: Lanes) -> list[Lanes]:
        given, result = b.buffer(len(args)), b.buffer(outs)
        size = 4 * b.width
        for k, value in enumerate(args):
            b.store(value, b.scalar(f"getelementptr i8, ptr {given}, i64 {k * size}"))
        offsets, _ = b.table("offsets", int(op.attrs[0]))
        b.declared[name] = f"declare void @{name}(ptr, ptr, ptr, i64)"
        b.write(f"call void @{name}(ptr {given}, ptr {offsets}, ptr {result}, i64 {int(op.attrs[1])})")
        return [b.load(b.scalar(f"getelementptr i8, ptr {result}, i64 {k * size}"), "f") for k in range(outs)]

    return call
