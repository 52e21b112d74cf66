"""Effect -> plan: typed, ordered operations with their values beside them. Engines run plans; they know no documents."""

from .compile import EmitterPlan, Plan, Probe, compile_effect
from .program import Operation, Program
from .values import PlanValues

__all__ = ["EmitterPlan", "Operation", "Plan", "PlanValues", "Probe", "Program", "compile_effect"]
