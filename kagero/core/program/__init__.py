"""Programs, below every document: operations by name and type, the builder that writes them, and typed slots for their
values."""

from .builder import MOST_OPERATIONS, Builder, Operation, Program, digest
from .inlined import inline
from .operations import SIGNATURES, Signature
from .slots import Fixed, FixedSeed, Group, Handle, Slot, SlotTable
from .values import ProgramValues, PropQuery, StageQueries

__all__ = [
    "MOST_OPERATIONS",
    "SIGNATURES",
    "Builder",
    "Fixed",
    "FixedSeed",
    "Group",
    "Handle",
    "Operation",
    "Program",
    "ProgramValues",
    "PropQuery",
    "Signature",
    "Slot",
    "SlotTable",
    "StageQueries",
    "digest",
    "inline",
]
