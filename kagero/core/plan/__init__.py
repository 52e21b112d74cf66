"""Effect -> plan: programs of typed operations, with the slots of their values. Engines run programs; they know no documents."""

from .columns import Column, Columns, compile_columns
from .compile import EmitterPlan, Plan, Probe, PropPlan, compile_effect
from .fields import compile_births, compile_mask
from .figure import compile_figure, figure_points
from .filling import Timing
from .masks import density_table
from .view import EffectView

__all__ = [
    "Column", "Columns", "EffectView", "EmitterPlan", "Plan", "Probe", "PropPlan", "Timing", "compile_births", "compile_columns",
    "compile_effect", "compile_figure", "compile_mask", "density_table", "figure_points",
]  # fmt: skip
