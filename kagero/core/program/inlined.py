"""A program written into another one."""

from __future__ import annotations

from collections.abc import Mapping

from .builder import Builder, Program


def inlined(b: Builder, program: Program, given: Mapping[str, int], row: str | None = None) -> dict[str, int]:
    """Write a program's operations into a builder, and return the values of its outputs by name; what is there already is not written again.

    given: by name, the values that stand for its inputs; the others become inputs of what is built. row: whose its operations are; None: whose
    they were. The values it reads beside (`ProgramValues`) are those it was finished with.
    """
    value = {number: given[name] if name in given else b.input(name) for name, number in program.inputs.items()}
    for op in program.operations:
        b.row = op.row if row is None else row
        value |= zip(op.outs, b.multi(op.name, *(value[a] for a in op.args), attrs=op.attrs), strict=True)
    return {name: value[number] for name, number in program.outputs.items()}
