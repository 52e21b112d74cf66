"""Effect -> plan: typed, ordered operations with their values beside them. Engines run plans; they know no documents."""

from .columns import Column, Columns, compile_columns
from .compile import EmitterPlan, Plan, Probe, PropPlan, compile_effect
from .figure import compile_figure, figure_points
from .program import Operation, Program
from .values import PlanValues

__all__ = ["Column", "Columns", "EmitterPlan", "Operation", "Plan", "PlanValues", "Probe", "Program", "PropPlan", "compile_columns", "compile_effect",
           "compile_figure", "figure_points"]  # fmt: skip
