"""Particles at their births, many at once: a birth depends on its key and time alone."""

from __future__ import annotations

import threading
from typing import Any

import numpy as np
from cachetools import LRUCache

from ..engine import Faults, Prepared, prepare_reference
from ..plan import EmitterPlan, Plan
from ..work_limits import spend
from .births import Schedule, schedule_births
from .frames import Population

F32 = np.float32
BIRTHS_AT_ONCE = 16_384
CHUNKS = 80  # of newborns that are kept: more than a million


class Newborns:
    """The births of one emitter by its own rate, bursts and times. A birth that a condition prevents is left out."""

    def __init__(self, plan: Plan, emitter: EmitterPlan, rate: Prepared):
        self.plan, self.emitter = plan, emitter
        self._birth, self._rate = prepare_reference(emitter.birth), rate
        self._schedule: Schedule | None = None
        self._chunks: LRUCache[int, tuple[Population, np.ndarray | None, Faults]] = LRUCache(CHUNKS)
        self._lock = threading.Lock()

    @property
    def schedule(self) -> Schedule:
        """All births of the clip: exact times and keys."""
        if self._schedule is None:
            begins = None if self.emitter.begins is None else prepare_reference(self.emitter.begins)
            comes = self._come_to_be if "comes to be" in self.emitter.birth.outputs else None
            parts = next(
                (query.detail for query in self.emitter.values.queries if getattr(query.detail, "counted", False)), None
            )
            stage: Any = self.emitter.values.stage
            count = None if parts is None else stage.part_count(parts)
            self._schedule = schedule_births(
                self.emitter, self._rate, self.plan.seconds(self.plan.last_frame), begins, comes, count
            )
        return self._schedule

    def born(self, which: slice, faults: Faults) -> Population:
        """Return the newborns of some births of the schedule, as at their births."""
        parts = []
        start = which.start
        while start < which.stop:
            chunk = start // BIRTHS_AT_ONCE
            offset = chunk * BIRTHS_AT_ONCE
            stop = min(which.stop, offset + BIRTHS_AT_ONCE)
            with self._lock:  # threads of one stretch read the same newborns
                chunk_births = self._chunks.get(chunk)
            if chunk_births is None:
                noted = Faults()
                chunk_births = (*self._scheduled(slice(offset, offset + BIRTHS_AT_ONCE), noted), noted)
                with self._lock:
                    self._chunks[chunk] = chunk_births
            born, comes, noted = chunk_births
            here = slice(start - offset, stop - offset)
            if noted.counts:  # rare: compute these alone, to count their own faults
                born, comes = self._scheduled(slice(start, stop), faults)
                here = slice(0, stop - start)
            part = born.where(here)
            parts.append(part if comes is None else part.where(comes[here]))
            start = stop
        if not parts:
            return Population.empty(self.emitter.carried)
        return parts[0] if len(parts) == 1 else Population.joined(parts)

    def give_birth(
        self, keys: np.ndarray, times: np.ndarray, parents: dict[str, np.ndarray], faults: Faults
    ) -> tuple[Population, np.ndarray | None]:
        """Return newborns of keys (n,) uint64 and times (n,) float64 seconds, and which of them happen, (n,) bool
        (None: all).

        parents: the parents' columns that the birth program reads, by the names of its inputs, (n,) each.
        """
        spend(len(keys) * len(self.emitter.birth.operations))
        out = self._birth.run(self.emitter.values, {"key": keys, "birth_time": times, **parents}, len(keys), faults)
        x, y, z = (out[f"position.{axis}"] for axis in "xyz")
        u, v, w = (out[f"velocity.{axis}"] for axis in "xyz")
        carried = {name: out[name] for name in self.emitter.carried}
        comes = out["comes to be"] > 0.5 if "comes to be" in out else None
        return Population.from_columns(
            keys, times, np.zeros(len(keys), F32), out["lifespan"], (x, y, z), (u, v, w), carried
        ), comes

    def _scheduled(self, which: slice, faults: Faults) -> tuple[Population, np.ndarray | None]:
        return self.give_birth(self.schedule.keys[which], self.schedule.times[which], {}, faults)

    def _come_to_be(self, keys: np.ndarray, times: np.ndarray) -> np.ndarray:
        comes = self.give_birth(keys, times, {}, Faults())[1]
        return np.ones(len(keys), bool) if comes is None else comes
