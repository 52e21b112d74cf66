"""Runs a plan's operations on arrays. `reference` (NumPy) is the definition of every operation; `native` is machine code."""

from .choice import REFERENCE, EngineChoice, chosen, forced, native_choice, prepare, prepare_hot
from .reference import MARGIN, Bound, Prepared
from .run_state import Faults

__all__ = [
    "MARGIN",
    "REFERENCE",
    "Bound",
    "EngineChoice",
    "Faults",
    "Prepared",
    "chosen",
    "forced",
    "native_choice",
    "prepare",
    "prepare_hot",
]
