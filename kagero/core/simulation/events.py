"""Events within a frame, at exact times: births, ends, bindings, releases and cues."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

BORN, BOUND, RELEASED, ENDED = range(4)
STATE = 11
FIRED = 16  # and so many more: which of the cues that happen in an emitter, in its plan's order


@dataclass(frozen=True)
class Events:
    """Events of one emitter; those of one kind are in order.

    key: (n,) uint64, the particle. what: (n,) uint8, one of BORN, BOUND (to a prop), RELEASED, ENDED, or FIRED plus the
    number of a cue. time: (n,) float64, clip seconds. state: (n, 11) float32, for FIRED: position, velocity and normal
    at that time, number of births, and how often the cue had happened before.
    """

    key: np.ndarray
    what: np.ndarray
    time: np.ndarray
    state: np.ndarray

    @classmethod
    def none(cls) -> Events:
        return cls(np.empty(0, np.uint64), np.empty(0, np.uint8), np.empty(0), np.empty((0, STATE), np.float32))

    @classmethod
    def of(cls, what: int, key: np.ndarray, time: np.ndarray, state: np.ndarray | None = None) -> Events:
        """Return the same event for many particles."""
        where = np.zeros((len(key), STATE), np.float32) if state is None else state
        return cls(
            key, np.full(len(key), what, np.uint8), np.broadcast_to(np.asarray(time, np.float64), len(key)), where
        )

    @classmethod
    def joined(cls, parts: list[Events]) -> Events:
        """Return all events in order of time; equal times keep the given order."""
        if not parts:
            return cls.none()
        key, what, time, state = (
            np.concatenate([getattr(part, name) for part in parts]) for name in ("key", "what", "time", "state")
        )
        order = np.argsort(time, kind="stable")
        return cls(key[order], what[order], time[order], state[order])

    def __len__(self) -> int:
        return len(self.key)

    def only(self, what: int) -> Events:
        keep = self.what == what
        return Events(self.key[keep], self.what[keep], self.time[keep], self.state[keep])

    @property
    def nbytes(self) -> int:
        return self.key.nbytes + self.what.nbytes + self.time.nbytes + self.state.nbytes
