"""Effect -> plan: typed, ordered operations with their values beside them. Engines run plans; they know no documents."""

from .columns import Column, Columns, compile_columns
from .compile import EmitterPlan, Plan, Probe, PropPlan, compile_effect
from .fields import compile_births, compile_mask
from .figure import compile_figure, figure_points
from .filling import Timing, prop_digest
from .masks import density_table
from .program import Operation, Program
from .values import Asked, PlanValues

__all__ = [
    "Asked", "Column", "Columns", "EmitterPlan", "Operation", "Plan", "PlanValues", "Probe", "Program", "PropPlan", "Timing",
    "compile_births", "compile_columns", "compile_effect", "compile_figure", "compile_mask", "density_table", "figure_points",
    "prop_digest",
]  # fmt: skip
