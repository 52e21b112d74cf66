"""The text of a program's loop: a block that also knows the run-time arrays."""

from __future__ import annotations

from dataclasses import dataclass, field

from .text import Block, Lanes

LEAVES = ("sin", "cos", "exp")  # functions that stand in the leaf module: LLVM would call libm for each lane


@dataclass
class Emitter(Block):
    """A block with the run-time arrays: tables by slot, and counters of faults."""

    width: int
    tables: dict[tuple[str, int], int] = field(default_factory=dict)  # ("curve", slot) -> its place among the tables
    guards: list[str] = field(default_factory=list)  # the rows of the guards, in order
    buffers: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        super().__init__(self.width)

    def table(self, group: str, slot: int) -> tuple[str, str]:
        """Return the names of a table's pointer and number of rows, which the entry block loads."""
        k = self.tables.setdefault((group, slot), len(self.tables))
        return f"%table{k}", f"%rows{k}"

    def intrinsic(self, name: str, *args: Lanes) -> Lanes:
        if name not in LEAVES:
            return super().intrinsic(name, *args)
        v = self.type("f")
        self.declared[f"{name}_lanes"] = f"declare {v} @{name}_lanes({v})"
        return self.line(f"call {v} @{name}_lanes({v} {args[0].name})", "f")

    def buffer(self, vectors: int) -> str:
        """Return a pointer to stack memory for a number of vectors."""
        name = f"%buffer{len(self.buffers)}"
        self.buffers.append(f"{name} = alloca [{vectors} x {self.type('f')}], align {4 * self.width}")
        return name
