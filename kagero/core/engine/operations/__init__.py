"""Every operation of programs, one entry each: its NumPy function (the definition) and its IR."""

from . import arithmetic, fields, formula, placing, stage
from .entry import LEAF, Entry

OPERATIONS: dict[str, Entry] = {
    **arithmetic.OPERATIONS,
    **fields.OPERATIONS,
    **placing.OPERATIONS,
    **formula.OPERATIONS,
    **stage.OPERATIONS,
}

__all__ = ["LEAF", "OPERATIONS", "Entry"]
