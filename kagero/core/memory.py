"""Caches (frames, pictures, geometry, plans) in regions under one limit in bytes.

Above the limit, the region that holds most beyond its share evicts what it used least recently. Evicted things are
computed again when asked for: results never depend on the cache.
"""

from __future__ import annotations

import threading
from collections import OrderedDict, deque
from collections.abc import Callable, Hashable
from dataclasses import fields, is_dataclass
from typing import Any, Generic, TypeVar

import numpy as np

T = TypeVar("T")
SMALL = 96  # bytes of a plain object, roughly


def estimated_bytes(thing: Any, depth: int = 6) -> int:
    """Return about how many bytes a thing holds: its arrays, and what it has computed and kept so far."""
    if isinstance(thing, np.ndarray):
        return SMALL + (
            thing.nbytes
            if thing.base is None or not isinstance(thing.base, np.ndarray)
            else min(thing.nbytes, thing.base.nbytes)
        )
    if isinstance(thing, (str, bytes)):
        return SMALL + len(thing)
    if depth == 0 or thing is None or isinstance(thing, (int, float, bool, type)):
        return 32
    if isinstance(thing, dict):
        return SMALL + sum(estimated_bytes(value, depth - 1) for value in list(thing.values())) + 64 * len(thing)
    if isinstance(thing, (list, tuple)):
        return SMALL + sum(estimated_bytes(value, depth - 1) for value in thing)
    held = (
        vars(thing)
        if hasattr(thing, "__dict__")
        else {f.name: getattr(thing, f.name) for f in fields(thing)}
        if is_dataclass(thing)
        else {}
    )
    return SMALL + sum(estimated_bytes(value, depth - 1) for value in list(held.values()))


class CacheRegion(Generic[T]):
    """A cache of one kind of thing by key. share: its part of the memory's limit while others need theirs."""

    def __init__(self, memory: Memory, name: str, share: float, weigh: Callable[[Any], int] = estimated_bytes):
        self.name, self.share = name, share
        self.used = 0
        self._memory, self._weigh = memory, weigh
        self._things: OrderedDict[Hashable, tuple[T, int]] = OrderedDict()

    def __len__(self) -> int:
        return len(self._things)

    def __contains__(self, key: Hashable) -> bool:
        return key in self._things

    def get(self, key: Hashable) -> T | None:
        """Return the thing kept under a key and mark it as used, or None."""
        with self._memory.lock:
            found = self._things.get(key)
            if found is None:
                return None
            self._things.move_to_end(key)
            return found[0]

    def put(self, key: Hashable, thing: T) -> T:
        """Keep a thing, with its present size."""
        size = self._weigh(thing)
        with self._memory.lock:
            old = self._things.pop(key, None)
            self._things[key] = (thing, size)
            self.used += size - (old[1] if old else 0)
            self._memory.trim(self, key)
        return thing

    def __call__(self, key: Hashable, make: Callable[[], T]) -> T:
        """Return the thing kept under a key, or make and keep it. Sizes of things that grow are measured again now and
        then."""
        found = self.get(key)
        if found is None:
            return self.put(key, make())
        self._memory.asked += 1
        if self._memory.asked % 64 == 0:
            self.put(key, found)
        return found

    def values(self) -> list[T]:
        """Return everything kept, the least recently used first."""
        with self._memory.lock:
            return [thing for thing, _ in self._things.values()]

    def clear(self) -> None:
        with self._memory.lock:
            self._things.clear()
            self.used = 0

    def oldest(self) -> Hashable:
        return next(iter(self._things))

    def evict(self, key: Hashable) -> None:
        self.used -= self._things.pop(key)[1]


class Memory:
    """Cache regions under one limit, in bytes. Thread-safe."""

    def __init__(self, limit: int):
        self.limit = limit
        self.lock = threading.RLock()
        self.regions: list[CacheRegion[Any]] = []
        self.asked = 0

    def region(self, name: str, share: float, weigh: Callable[[Any], int] = estimated_bytes) -> CacheRegion[Any]:
        shelf: CacheRegion[Any] = CacheRegion(self, name, share, weigh)
        with self.lock:
            self.regions.append(shelf)
        return shelf

    @property
    def used(self) -> int:
        return sum(shelf.used for shelf in self.regions)

    def trim(self, newest: CacheRegion[Any], key: Hashable) -> None:
        """Evict the least recently used things until everything fits the limit, except the newest."""
        while self.used > self.limit:
            able = [shelf for shelf in self.regions if len(shelf) > (1 if shelf is newest else 0)]
            if not able:
                return
            fullest = max(able, key=lambda shelf: shelf.used / shelf.share)
            oldest = fullest.oldest()
            if fullest is newest and oldest == key:
                return
            fullest.evict(oldest)

    def report(self) -> dict[str, int]:
        """Return the bytes in each region."""
        sizes: dict[str, int] = {}
        for shelf in self.regions:
            sizes[shelf.name] = sizes.get(shelf.name, 0) + shelf.used
        return sizes


PROCESS = Memory(2 << 30)  # what a whole process keeps; a server sets its limit


class ArrayPool:
    """A pool of large arrays whose memory is reused as soon as nothing refers to them: on most systems fresh memory
    costs several times what writing it does. most: bytes kept while unused. Thread-safe."""

    LEAST = 1 << 16  # bytes of an array that is worth it
    # how many times what was asked for a new room is, and how many times one that is used again may be
    SPARE = 1.25
    CLOSE = 1.5

    def __init__(self, most: int):
        self.most, self.kept = most, 0
        self._free: list[np.ndarray] = []  # in the order they came back
        self._back: deque[np.ndarray] = deque()  # what came back: possibly in the middle of anything, from any thread
        self._lock = threading.Lock()

    def array(self, shape: tuple[int, ...], dtype: Any) -> np.ndarray:
        """Return an array with arbitrary contents, to be written. Raises MemoryError."""
        size = int(np.prod(shape)) * np.dtype(dtype).itemsize
        if size < self.LEAST:
            return np.empty(shape, dtype)
        with self._lock:
            self._tidy()
            able = [(room.size, i) for i, room in enumerate(self._free) if size <= room.size <= size * self.CLOSE]
            room = self._free.pop(min(able)[1]) if able else None
            self.kept -= 0 if room is None else room.size
        if room is None:
            room = self._new(int(size * self.SPARE))
        return np.asarray(_Loan(room, shape, np.dtype(dtype).str, self._back))

    def _new(self, size: int) -> np.ndarray:
        room: np.ndarray
        try:
            room = np.empty(size, np.uint8)
        except MemoryError:
            with self._lock:
                self._tidy()
                self._free.clear()
                self.kept = 0
            room = np.empty(size, np.uint8)
        return room

    def _tidy(self) -> None:
        while self._back:
            room = self._back.popleft()
            self._free.append(room)
            self.kept += room.size
        while self.kept > self.most:
            self.kept -= self._free.pop(0).size


class _Loan:
    """A buffer of the pool, returned when no array is a view of it any more."""

    def __init__(self, room: np.ndarray, shape: tuple[int, ...], kind: str, back: deque[np.ndarray]):
        self._room, self._back = room, back
        self.__array_interface__ = {"shape": shape, "typestr": kind, "data": (room.ctypes.data, False), "version": 3}

    def __del__(self) -> None:
        self._back.append(self._room)


ARRAY_POOL = ArrayPool(256 << 20)
