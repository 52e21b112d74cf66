"""The formula of a line: one parameter in, a place out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..errors import FormulaProblem
from ..kernels.random import seed_of
from ..program import Builder, FixedSeed, Program, ProgramValues, Slot
from .check import Formula, Known, check
from .language import Problem, Span
from .units import PLAIN
from .write import Values, Writer

NAMES = {"t": Known("t", "number", PLAIN, "t", help="The parameter: 0 at the start, 1 at the end.")}


def figure_source(text: str) -> tuple[Formula, list[Problem]]:
    """Return the formula of a line, and what is wrong with it: that of any formula, and that it gives no vector."""
    formula = check(text, NAMES)
    problems = list(formula.problems)
    if formula.result is not None and formula.result.count != 3:
        problems.append(
            Problem(Span(1, 1, 1, 1), "A path needs a vector, and this gives a number.", "Write vec3(x, y, z).")
        )
    return formula, problems


class _Figure:
    """The reader of a figure's formula: it knows t and no clip."""

    def __init__(self, builder: Builder):
        self.builder = builder

    def source(self, source: Any) -> Values:
        return (self.builder.input("t"),)

    def clip_time(self) -> int:
        return self.builder.const(0)

    def frame(self) -> int:
        raise AssertionError("a figure knows no frames; its names have none")

    frame_rate = step_seconds = frame

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        raise AssertionError("a figure has no step before; its names have none")

    def own_seed(self, *names: str) -> Slot[Any]:
        return FixedSeed(seed_of(1, "figure", *names))

    def shared_seed(self, name: str) -> Slot[Any]:
        return FixedSeed(seed_of(1, "noises", name))


def compile_figure(text: str) -> tuple[Program, ProgramValues]:
    """Return a program with input t and outputs x, y, z (metres). Raises FormulaProblem with line and column, also
    where it gives no vector."""
    formula, problems = figure_source(text)
    if problems or formula.result is None:
        raise FormulaProblem(str(problems[0]), where="formula", remedy="It knows t, which goes from 0 to 1.")
    builder = Builder()
    outs = Writer(_Figure(builder), formula, "figure").result()
    return builder.finish(dict(zip("xyz", outs, strict=True))), builder.slots.values(None)


def figure_points(run: Any, count: int = 600) -> np.ndarray:
    """Return (count, 3) points of a figure, metres; run(inputs, count) runs its program."""
    out = run({"t": np.linspace(0, 1, count).astype(np.float32)}, count)
    return np.stack([np.broadcast_to(out[axis], count) for axis in "xyz"], axis=1).astype(np.float64)
