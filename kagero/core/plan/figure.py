"""A line from a formula of one parameter."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np

from ..errors import FormulaProblem
from ..formula import figure
from .formulas import Writer
from .program import Builder, Program
from .values import PlanValues


def compile_figure(text: str) -> tuple[Program, PlanValues]:
    """Return a program with input t and outputs x, y, z. Raises FormulaProblem with line and column, also where it gives no vector."""
    formula, problems = figure(text)
    if problems or formula.result is None:
        raise FormulaProblem(str(problems[0]), where="formula", remedy="It knows t, which goes from 0 to 1.")
    builder, values = Builder(), PlanValues()
    context: Any = SimpleNamespace(
        builder=builder, values=values, source=lambda name: (builder.input("t"),), attribute=lambda kind: (builder.const(0),),
        effect=SimpleNamespace(clip=SimpleNamespace(seed=1)), emitter=SimpleNamespace(uid="figure"))  # fmt: skip
    outs = Writer(context, formula, "figure").result()
    return builder.finish(dict(zip("xyz", outs, strict=True))), values


def figure_points(run: Any, count: int = 600) -> np.ndarray:
    """Return (count, 3) points of a figure; run(inputs, count) runs its program."""
    out = run({"t": np.linspace(0, 1, count).astype(np.float32)}, count)
    return np.stack([np.broadcast_to(out[axis], count) for axis in "xyz"], axis=1).astype(np.float64)
