"""Runs a plan's operations on arrays. `reference` (NumPy) is the definition of every operation; `native` is machine code."""

from .choice import REFERENCE, EngineChoice, chosen, forced, native_choice, prepare, prepare_hot
from .reference import Prepared
from .running import Faults

__all__ = ["REFERENCE", "EngineChoice", "Faults", "Prepared", "chosen", "forced", "native_choice", "prepare", "prepare_hot"]
