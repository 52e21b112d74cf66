"""Every operation of plans, one entry each: its shape, its NumPy function (the definition) and its IR."""

from . import arithmetic, fields, formula, placing
from .entry import Entry

OPERATIONS: dict[str, Entry] = {**arithmetic.OPERATIONS, **fields.OPERATIONS, **placing.OPERATIONS, **formula.OPERATIONS}

__all__ = ["OPERATIONS", "Entry"]
