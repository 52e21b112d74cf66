"""A film: pictures at a rate, one of them at a time."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from fractions import Fraction

import numpy as np

from .picture import Picture

KEPT = 3  # pictures that are held ready


class Film:
    """count: how many pictures; rate: how many a second; packed: what it takes, (n,) bytes; decode: gives a picture by
    its number, called by one thread at a time."""

    def __init__(
        self, size: tuple[int, int], count: int, rate: Fraction, packed: np.ndarray, decode: Callable[[int], Picture]
    ):
        self.size, self.count, self.rate, self.packed = size, count, rate, packed
        self._decode = decode
        self._lock = threading.Lock()
        self._ready: OrderedDict[int, Picture] = OrderedDict()

    def picture(self, number: int) -> Picture:
        """Return a picture; numbers before the first and after the last are these."""
        number = min(max(number, 0), self.count - 1)
        with self._lock:
            if number not in self._ready:
                self._ready[number] = self._decode(number)
                if len(self._ready) > KEPT:
                    self._ready.popitem(last=False)
            self._ready.move_to_end(number)
            return self._ready[number]
