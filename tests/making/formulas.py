"""Formulas, as documents have them and as programs."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

from kagero.core.formula import PLAIN, Known, Writer, check
from kagero.core.program import Builder, Program, ProgramValues


def formula(text, read="live", uid="f"):
    return {"base": {"source": {"kind": "formula", "uid": uid, "text": text}, "read": read}, "responses": []}


NUMBERS, VECTORS = ("a", "b", "c"), ("p", "q")


NAMES = {**{n: Known(n, "number", PLAIN, n) for n in NUMBERS}, **{n: Known(n, "vector", PLAIN, n) for n in VECTORS}}


class Varying(Builder):
    """Makes numbers in the text inputs that vary: what particles share the native engine leaves to the reference
    engine."""

    def op(self, name: str, *args: int, attrs: tuple[Any, ...] = ()) -> int:
        return (
            self.input(f"literal {int(self.slots.handle(attrs[0]))}")
            if name == "param"
            else super().op(name, *args, attrs=attrs)
        )


def written(texts: list[str]) -> tuple[Program, ProgramValues]:
    """Return a program with the results of formulas as its outputs `k.i`, over inputs by the names above."""
    b = Varying()
    parts = {n: [n] if n in NUMBERS else [f"{n}.{i}" for i in range(3)] for n in NAMES}
    context: Any = SimpleNamespace(builder=b, source=lambda name: tuple(b.input(part) for part in parts[name]))
    outputs = {}
    for k, text in enumerate(texts):
        formula = check(text, NAMES)
        assert formula.result is not None, (text, [str(p) for p in formula.problems])
        outputs |= {f"{k}.{i}": v for i, v in enumerate(Writer(context, formula, "f").result())}
    return b.finish(outputs), b.slots.values(None)
