"""Runs a plan's operations on arrays. `reference` (NumPy) is the definition of every operation."""

from .reference import ENGINE, Faults, Prepared, prepare

__all__ = ["ENGINE", "Faults", "Prepared", "prepare"]
