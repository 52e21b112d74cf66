"""Work that can be cancelled, and that has a budget of operations.

Code that starts work wraps it in `while_wanted`; code that takes long, at any depth, announces its operations by
`spend`. One operation is about one number computed for one particle or point. Arrays whose size a document decides,
other than by its number of particles, are announced by `claim` before they are allocated.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

from .errors import BudgetError

EVERY = 0.01  # seconds between two times that somebody is asked


@dataclass
class Limits:
    """effect_bytes: memory that one effect may use while it is worked on. A server sets it."""

    effect_bytes: int = 3 << 30


LIMITS = Limits()


class Work:
    """Work in progress. ask: raises Cancelled when it is no longer wanted. most: its budget of operations. what: the
    work in words, for the error."""

    def __init__(self, ask: Callable[[], None], most: float = float("inf"), what: str = "This"):
        self.ask, self.most, self.what = ask, most, what
        self.spent = 0.0
        self.outer: Work | None = None
        self._asked = 0.0

    def spend(self, operations: float) -> None:
        if self.outer is not None:
            self.outer.spend(operations)
        self.spent += operations
        if self.spent > self.most:
            words = f"{self.what} needs more than {self.most / 1e6:,.0f} million operations."
            raise BudgetError(words, remedy="Make it lighter: fewer particles, or simpler props.")
        now = time.monotonic()
        if now - self._asked > EVERY:
            self._asked = now
            self.ask()


_current: ContextVar[Work | None] = ContextVar("work", default=None)


@contextmanager
def while_wanted(work: Work) -> Iterator[Work]:
    """Attach work to everything computed within the context. Nested work asks both."""
    work.outer = _current.get()
    token = _current.set(work)
    try:
        yield work
    finally:
        _current.reset(token)


def claim(size: float, what: str, remedy: str = "Make it lighter: fewer particles, or simpler props.") -> None:
    """Announce an allocation whose size a document decides. Raises BudgetError when one effect may not use so much
    memory.

    :param what: what needs the memory, in words for the error
    """
    if size > LIMITS.effect_bytes:
        raise BudgetError(
            f"{what} needs {size / 1e9:,.1f} GB of memory; {LIMITS.effect_bytes / 1e9:,.1f} GB are allowed.",
            remedy=remedy,
        )


def spend(operations: float = 0) -> None:
    """Announce operations. Raises Cancelled when they are no longer wanted, BudgetError when they exceed the budget."""
    work = _current.get()
    if work is not None:
        work.spend(operations)
