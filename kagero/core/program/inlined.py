"""Inlining of one program into another."""

from __future__ import annotations

from collections.abc import Mapping

from .builder import Builder, Program


def inline(b: Builder, program: Program, given: Mapping[str, int], row: str | None = None) -> dict[str, int]:
    """Write a program's operations into a builder, and return its outputs by name; operations that are there already
    are shared.

    given: values for its inputs by name; other inputs become inputs of the builder. row: address for its operations;
    None: as they were. Its values (`ProgramValues`) are those it was finished with.
    """
    value = {number: given[name] if name in given else b.input(name) for name, number in program.inputs.items()}
    for op in program.operations:
        b.row = op.row if row is None else row
        value |= zip(op.outs, b.multi(op.name, *(value[a] for a in op.args), attrs=op.attrs), strict=True)
    return {name: value[number] for name, number in program.outputs.items()}
