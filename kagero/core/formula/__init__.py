"""Formulas: text -> tree -> checked and typed expression. An unknown syntax node is refused at its place; nothing is ever executed.

What names mean is given from outside (`Known`); what operations a formula becomes stands in `plan`.
"""

from .check import Formula, Known, Reading, Typed, check
from .figure import figure
from .functions import CONSTANTS, FUNCTIONS, OPERATORS, Function
from .language import GROUPS, Problem, Span, Tree, identifier, names_in, parse
from .units import ANY, PLAIN, Dimension, dimension_of, dimension_text

__all__ = [
    "ANY", "CONSTANTS", "FUNCTIONS", "GROUPS", "OPERATORS", "PLAIN", "Dimension", "Formula", "Function", "Known", "Problem",
    "Reading", "Span", "Tree", "Typed", "check", "dimension_of", "dimension_text", "figure", "identifier", "names_in", "parse",
]  # fmt: skip
