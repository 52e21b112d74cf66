"""Whose packet is computed next: the first picture of anybody before the rest of everybody, and of the rest whoever
waited longest.

As many are computed at once as there are cores; of the rest, one fewer, so that a first picture seldom waits for one to
end, and none beside a first picture, which it would slow down; but never longer than STARVED, however many pictures are
asked for.
"""

from __future__ import annotations

import itertools
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

FIRST, NEAR, REST = 0, 1, 2  # the picture somebody waits for; its live values and what the clip tells; all other frames
STARVED_AFTER = 0.6  # seconds after which the rest has its turn, whoever else is at work
EVERY = 0.1  # seconds between two times that who waits asks whether it is still wanted


class TurnQueue:
    """slots: how many are at work at once."""

    def __init__(self, slots: int):
        self.slots = slots
        self._changed = threading.Condition()
        self._waiting: list[tuple[int, int]] = []
        self._ticket = itertools.count()
        self._busy = [0, 0, 0]  # at work, by kind
        self._rested = 0.0  # when something else than a first picture last had its turn

    @contextmanager
    def turn(self, kind: int, ask: Callable[[], None]) -> Iterator[None]:
        """Wait for a turn, and hold it. ask: raises Cancelled when it is no longer wanted."""
        mine = (kind, next(self._ticket))
        with self._changed:
            self._waiting.append(mine)
            try:
                while not self._may_go(mine):
                    self._changed.wait(EVERY)
                    ask()
            except BaseException:
                self._leave(mine)
                raise
            self._leave(mine)
            self._busy[kind] += 1
            if kind != FIRST:
                self._rested = time.monotonic()
        try:
            yield
        finally:
            with self._changed:
                self._busy[kind] -= 1
                self._changed.notify_all()

    def _may_go(self, mine: tuple[int, int]) -> bool:
        kind = mine[0]
        if min(self._waiting) != mine:
            return False
        if sum(self._busy) >= self.slots:
            return False
        if kind == FIRST or not self._busy[FIRST]:
            return kind != REST or self._busy[REST] < max(1, self.slots - 1)
        return time.monotonic() - self._rested > STARVED_AFTER

    def _leave(self, mine: tuple[int, int]) -> None:
        self._waiting.remove(mine)
        self._changed.notify_all()


TURNS = TurnQueue(max(2, os.cpu_count() or 1))
