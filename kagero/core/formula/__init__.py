"""Formulas: text -> tree -> checked and typed expression. An unknown syntax node is refused at its place; nothing is
ever executed.

What names mean is given from outside (`Known`), and so is where what they name is read (`FormulaReader`).
"""

from .check import Formula, Known, Reading, Typed, check
from .figure import compile_figure, figure_points, figure_source
from .functions import CONSTANTS, FUNCTIONS, OPERATORS, Function
from .language import GROUPS, Problem, Span, Tree, identifier, names_in, parse, words_of
from .units import ANY, PLAIN, Dimension, dimension_of, dimension_text
from .write import FormulaReader, Values, Writer

__all__ = [
    "ANY",
    "CONSTANTS",
    "FUNCTIONS",
    "GROUPS",
    "OPERATORS",
    "PLAIN",
    "Dimension",
    "Formula",
    "FormulaReader",
    "Function",
    "Known",
    "Problem",
    "Reading",
    "Span",
    "Tree",
    "Typed",
    "Values",
    "Writer",
    "check",
    "compile_figure",
    "dimension_of",
    "dimension_text",
    "figure_points",
    "figure_source",
    "identifier",
    "names_in",
    "parse",
    "words_of",
]
