"""Runs a plan's operations on arrays. `reference` (NumPy) is the definition of every operation; `native` is machine code."""

from .choice import REFERENCE, Choice, chosen, forced, native_choice, prepare, prepare_hot
from .reference import Prepared
from .running import Faults

__all__ = ["REFERENCE", "Choice", "Faults", "Prepared", "chosen", "forced", "native_choice", "prepare", "prepare_hot"]
