"""State of a program's run besides its arrays, for either engine."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..program import ProgramValues

F32 = np.float32


@dataclass
class Faults:
    """Results that were not finite and were replaced: the number for each row, and the first particle's key."""

    counts: dict[str, int] = field(default_factory=dict)
    first_key: dict[str, int] = field(default_factory=dict)

    def note(self, row: str, count: int, key: int) -> None:
        self.counts[row] = self.counts.get(row, 0) + count
        self.first_key.setdefault(row, key)

    def forget(self, row: str) -> None:
        """Remove the notes of a row."""
        self.counts.pop(row, None)
        self.first_key.pop(row, None)

    def add(self, other: Faults) -> None:
        for row, count in other.counts.items():
            self.note(row, count, other.first_key[row])


@dataclass
class Run:
    """What an operation may read besides its arguments: values, block size, keys, and where faults are counted.

    exact: inputs given in float64 (times), by number; stage queries read them in full precision.
    """

    values: ProgramValues
    size: int = 0
    keys: np.ndarray | None = None
    faults: Faults | None = None
    exact: dict[int, Any] = field(default_factory=dict)


def full(value: Any, size: int) -> np.ndarray:
    """Return a value as an array of `size`, in its own precision; a shared value is repeated."""
    return value if isinstance(value, np.ndarray) else np.full(size, value, np.asarray(value).dtype)
