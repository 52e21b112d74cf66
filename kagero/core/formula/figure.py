"""The formula of a line: one parameter in, a place out."""

from __future__ import annotations

from .check import Formula, Known, check
from .language import Problem, Span
from .units import PLAIN

NAMES = {"t": Known("t", "number", PLAIN, "t", help="The parameter: 0 at the start, 1 at the end.")}


def figure(text: str) -> tuple[Formula, list[Problem]]:
    """Return the formula of a line, and what is wrong with it: that of any formula, and that it gives no vector."""
    formula = check(text, NAMES)
    problems = list(formula.problems)
    if formula.result is not None and formula.result.count != 3:
        problems.append(Problem(Span(1, 1, 1, 1), "A path needs a vector, and this gives a number.", "Write vec3(x, y, z)."))
    return formula, problems
