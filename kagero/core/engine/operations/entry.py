"""What an operation computes: its NumPy function, and its IR or the leaf that it calls. Its signature stands in `program`."""

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
    """Stand where the IR would: the native engine calls the operation's own function between two runs of lanes."""
    raise AssertionError("a leaf over arrays has no lanes")


@dataclass(frozen=True)
class Entry:
    """One operation of plans.

    numpy: function(*arguments, out) -> result, element by element; where `whole`, function(run, operation, arguments,
    outs), for what gives several results or reads run-time values. It defines the operation. ir: the same for lanes.
    ulp, near: how far the native engine may be from it, in units in the last place and besides that absolutely.
    """

    numpy: Callable[..., Any]
    ir: Ir
    whole: bool = False
    ulp: int = 0
    near: float = 0.0


def leaf(name: str, outs: int) -> Ir:
    """Return the IR that calls a leaf of noise (`native/leaves.py`)."""

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
