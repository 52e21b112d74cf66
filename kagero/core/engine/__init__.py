"""Engines run a plan's operations on arrays. `reference` (NumPy) defines every operation; `native` runs them as machine
code."""

from .choice import (
    REFERENCE,
    EngineChoice,
    current_engine,
    native_choice,
    prepare_for_engine,
    prepare_reference,
    use_engine,
)
from .reference import MARGIN, Bound, Prepared
from .run_state import Faults

__all__ = [
    "MARGIN",
    "REFERENCE",
    "Bound",
    "EngineChoice",
    "Faults",
    "Prepared",
    "current_engine",
    "native_choice",
    "prepare_for_engine",
    "prepare_reference",
    "use_engine",
]
