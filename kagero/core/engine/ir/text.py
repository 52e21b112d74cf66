"""LLVM IR as text: vectors of W float lanes, written with Python's operators.

A `Lanes` is a value of vector type f (float), i (32-bit), k (64-bit) or m (mask); each operation on it writes one line
of IR. Nothing is contracted or reordered: each operation rounds as NumPy's does.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass

import numpy as np

Number = float | int


def float_text(value: float) -> str:
    """Return a float32 constant in LLVM's notation: the bits of the same value in double precision."""
    return "0x" + struct.pack(">d", float(np.float32(value))).hex().upper()


@dataclass(frozen=True)
class Lanes:
    """A vector value in the text of a `Block`."""

    block: Block
    name: str
    kind: str  # f, i, k, m

    def _with(self, opcode: dict[str, str], other: Lanes | Number) -> Lanes:
        right = self.block.lanes(other, self.kind)
        return self.block.line(f"{opcode[self.kind]} {self.block.type(self.kind)} {self.name}, {right.name}", self.kind)

    def __add__(self, other: Lanes | Number) -> Lanes:
        return self._with({"f": "fadd", "i": "add", "k": "add"}, other)

    def __sub__(self, other: Lanes | Number) -> Lanes:
        return self._with({"f": "fsub", "i": "sub", "k": "sub"}, other)

    def __rsub__(self, other: Number) -> Lanes:
        return self.block.lanes(other, self.kind) - self

    def __mul__(self, other: Lanes | Number) -> Lanes:
        return self._with({"f": "fmul", "i": "mul", "k": "mul"}, other)

    def __truediv__(self, other: Lanes | Number) -> Lanes:
        return self._with({"f": "fdiv"}, other)

    def __and__(self, other: Lanes | Number) -> Lanes:
        return self._with({"i": "and", "k": "and", "m": "and"}, other)

    def __or__(self, other: Lanes | Number) -> Lanes:
        return self._with({"i": "or", "k": "or", "m": "or"}, other)

    def __xor__(self, other: Lanes | Number) -> Lanes:
        return self._with({"i": "xor", "k": "xor", "m": "xor"}, other)

    def __lshift__(self, other: Lanes | Number) -> Lanes:
        return self._with({"i": "shl", "k": "shl"}, other)

    def __rshift__(self, other: Lanes | Number) -> Lanes:
        """Shift right, filling with zeros."""
        return self._with({"i": "lshr", "k": "lshr"}, other)

    def signed_shift(self, other: Lanes | Number) -> Lanes:
        return self._with({"i": "ashr", "k": "ashr"}, other)

    def __neg__(self) -> Lanes:
        return self.block.line(f"fneg {self.block.type('f')} {self.name}", "f")

    def compare(self, how: str, other: Lanes | Number) -> Lanes:
        """Return a mask. how: LLVM's predicate, such as olt, oge, ule, uno for floats and eq, ult for integers."""
        right = self.block.lanes(other, self.kind)
        word = "fcmp" if self.kind == "f" else "icmp"
        return self.block.line(f"{word} {how} {self.block.type(self.kind)} {self.name}, {right.name}", "m")

    def __lt__(self, other: Lanes | Number) -> Lanes:
        return self.compare("olt", other)

    def __ge__(self, other: Lanes | Number) -> Lanes:
        return self.compare("oge", other)

    def where(self, yes: Lanes | Number, no: Lanes | Number, kind: str = "f") -> Lanes:
        """Return `yes` where the mask holds and `no` elsewhere."""
        b = self.block
        a, c = b.lanes(yes, kind), b.lanes(no, kind)
        return b.line(f"select {b.type('m')} {self.name}, {b.type(kind)} {a.name}, {b.type(kind)} {c.name}", kind)

    def to(self, kind: str) -> Lanes:
        """Convert: f and i by value (whole numbers below 2^31), k to i by its lower half, i to k unsigned."""
        b = self.block
        word = {"fi": "fptosi", "if": "sitofp", "ki": "trunc", "ik": "zext"}[self.kind + kind]
        return b.line(f"{word} {b.type(self.kind)} {self.name} to {b.type(kind)}", kind)


class Block:
    """The text of one function. `label` is the basic block that lines are written to."""

    def __init__(self, width: int):
        self.width = width
        self.lines: list[str] = []
        self.declared: dict[str, str] = {}
        self.label = "entry"
        self._count = 0

    def type(self, kind: str) -> str:
        return f"<{self.width} x {({'f': 'float', 'i': 'i32', 'k': 'i64', 'm': 'i1'})[kind]}>"

    def fresh(self, prefix: str = "v") -> str:
        self._count += 1
        return f"%{prefix}{self._count}"

    def write(self, line: str) -> None:
        self.lines.append("  " + line)

    def line(self, text: str, kind: str) -> Lanes:
        name = self.fresh()
        self.write(f"{name} = {text}")
        return Lanes(self, name, kind)

    def scalar(self, text: str) -> str:
        name = self.fresh("s")
        self.write(f"{name} = {text}")
        return name

    def start(self, label: str) -> None:
        self.lines.append(f"{label}:")
        self.label = label

    def lanes(self, value: Lanes | Number, kind: str) -> Lanes:
        """Return a value as lanes; a number is repeated in each."""
        if isinstance(value, Lanes):
            return value
        scalar = {"f": "float", "i": "i32", "k": "i64", "m": "i1"}[kind]
        if kind == "f":
            text = float_text(value)
        else:
            bits = {"i": 32, "k": 64, "m": 1}[kind]
            text = str(int(value) & ((1 << bits) - 1))
        return Lanes(self, f"splat ({scalar} {text})", kind)

    def splat(self, scalar: str, kind: str) -> Lanes:
        """Return lanes that all hold a scalar of the text."""
        element = {"f": "float", "i": "i32", "k": "i64"}[kind]
        one = self.scalar(f"insertelement {self.type(kind)} poison, {element} {scalar}, i32 0")
        return self.line(
            f"shufflevector {self.type(kind)} {one}, {self.type(kind)} poison, <{self.width} x i32> zeroinitializer",
            kind,
        )

    def intrinsic(self, name: str, *args: Lanes) -> Lanes:
        """Call a floating-point intrinsic such as sqrt, floor, fabs, copysign, exp, sin, cos, log, pow."""
        full = f"llvm.{name}.v{self.width}f32"
        kinds = ", ".join(self.type("f") for _ in args)
        self.declared[full] = f"declare {self.type('f')} @{full}({kinds})"
        given = ", ".join(f"{self.type('f')} {a.name}" for a in args)
        return self.line(f"call {self.type('f')} @{full}({given})", "f")

    def load(self, pointer: str, kind: str, align: int = 4) -> Lanes:
        return self.line(f"load {self.type(kind)}, ptr {pointer}, align {align}", kind)

    def store(self, value: Lanes, pointer: str, align: int = 4) -> None:
        self.write(f"store {self.type(value.kind)} {value.name}, ptr {pointer}, align {align}")

    def sqrt(self, x: Lanes) -> Lanes:
        return self.intrinsic("sqrt", x)

    def floor(self, x: Lanes) -> Lanes:
        return self.intrinsic("floor", x)

    def fabs(self, x: Lanes) -> Lanes:
        return self.intrinsic("fabs", x)

    def minimum(self, a: Lanes, b: Lanes) -> Lanes:
        """As numpy.minimum: NaN propagates."""
        return (a.compare("olt", b) | a.compare("uno", a)).where(a, b)

    def maximum(self, a: Lanes, b: Lanes) -> Lanes:
        """As numpy.maximum: NaN propagates."""
        return (a.compare("ogt", b) | a.compare("uno", a)).where(a, b)
