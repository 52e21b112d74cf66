"""Effect to plan: programs of typed operations, with slots for their values. Engines run programs and know no
documents."""

from .columns import Column, Columns, compile_columns
from .compile import compile_effect
from .fields import compile_births, compile_mask
from .keys import structure_key
from .loop_window import Window
from .plans import ByClipPlan, EmitterPlan, LookPlan, Plan
from .probe import Probe
from .timing import Timing
from .view import EffectView

__all__ = [
    "ByClipPlan",
    "Column",
    "Columns",
    "EffectView",
    "EmitterPlan",
    "LookPlan",
    "Plan",
    "Probe",
    "Timing",
    "Window",
    "compile_births",
    "compile_columns",
    "compile_effect",
    "compile_mask",
    "structure_key",
]
