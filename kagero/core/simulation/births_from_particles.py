"""Births from another emitter's particles: each parent emits at the rate, from its own birth on, while it lives.

Birth n of a parent happens where the integral of the rate since the parent's birth crosses n (n = 0 at once). Between
two frames the parent's position is the cubic Hermite curve through its positions and velocities; a parent that ends
before the next frame continues at its velocity.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ..engine import EngineChoice, Prepared
from ..errors import BudgetError
from ..kernels.random import child_keys, seed_of
from ..plan import EmitterPlan, Plan
from .births import RateIntegral
from .events import Events
from .frames import Population
from .shown import LookEvaluator

F32, F64 = np.float32, np.float64
MAX_BIRTHS_A_FRAME = 500_000
LOOK_COLUMNS = ("size", "opacity", "colour")  # of a parent, what its look gives


@dataclass(frozen=True)
class LivesOfFrame:
    """The particles that live at some time between the previous frame and a frame.

    population (n): first the `old` ones of the previous frame as they were there, then those born since, as at their
    births. since: that time for each, clip seconds, (n,) float64; -inf at the very first frame. ends: end of each life,
    (n,) float64, by lifespan or by an event of this frame. until: the particles at the frame.
    """

    population: Population
    old: int
    since: np.ndarray
    ends: np.ndarray
    until: Population


class Parents(Protocol):
    """The emitter whose particles emit others."""

    emitter: EmitterPlan
    engine: EngineChoice

    def lives(self, number: int, stopped: Callable[[], None]) -> LivesOfFrame:
        """Return the particles that live between the previous frame and frame `number`."""

    def cue_times(self, number: int, cue: str, stopped: Callable[[], None]) -> Events:
        """Return when a cue happened between the previous frame and frame `number`."""


@dataclass(frozen=True)
class ChildBirths:
    """Births in order of time: keys (uint64), exact times (float64, clip seconds), and the parents' columns that the
    birth program reads."""

    keys: np.ndarray
    times: np.ndarray
    inputs: dict[str, np.ndarray]


def split_keys(keys: np.ndarray) -> list[np.ndarray]:
    """Return keys, (n,) uint64, as three numbers of 22 bits each, which float32 holds exactly."""
    return [(keys >> np.uint64(22 * i) & np.uint64(0x3FFFFF)).astype(F32) for i in range(3)]


def join_keys(pieces: list[np.ndarray]) -> np.ndarray:
    """Return the keys of three such numbers; the inverse of `split_keys`."""
    return sum(
        (piece.astype(np.uint64) << np.uint64(22 * i) for i, piece in enumerate(pieces)),
        np.zeros(len(pieces[0]), np.uint64),
    )


class ChildBirthSource:
    """The births of one emitter from the particles of another."""

    def __init__(self, plan: Plan, emitter: EmitterPlan, rate: Prepared, parents: Parents):
        self.plan, self.emitter, self.parents = plan, emitter, parents
        self.flow = RateIntegral(emitter, rate, plan.seconds(plan.last_frame))  # and a little beyond: see `births`
        self._look = (
            LookEvaluator(parents.emitter, parents.engine)
            if any(f"parent.{name}" in emitter.birth.inputs for name in ("size", "opacity"))
            or ("parent.colour.0" in emitter.birth.inputs)
            else None
        )

    def births(self, number: int, stopped: Callable[[], None]) -> ChildBirths:
        """Return the births after the previous frame up to frame `number`; at the very first frame, those at its time.

        Raises BudgetError for more than MAX_BIRTHS_A_FRAME.
        """
        if self.emitter.born_at is not None:
            return self._at_cue(number, self.emitter.born_at, stopped)
        lives, t1 = self.parents.lives(number, stopped), self.plan.seconds(number)
        population, old, since = lives.population, lives.old, lives.since
        t0 = self.plan.seconds(number - 1)
        born, death = population.birth_time, lives.ends
        before = np.where(np.arange(len(population)) < old, self._count(born, np.full(len(population), t0), death), 0)
        counts = self._count(born, np.full(len(population), t1), death) - before
        total = self._afford(counts)
        index = np.repeat(np.arange(len(population)), counts)
        ordinal = np.arange(total) - np.repeat(np.cumsum(counts) - counts, counts) + np.repeat(before, counts)
        when = np.maximum(self.flow.when(self.flow.total(born[index]) + ordinal), born[index])
        when = np.clip(when, since[index], t1)
        order = np.argsort(when, kind="stable")
        index, when, ordinal = index[order], when[order], ordinal[order]
        keys = np.empty(total, np.uint64)
        child_keys(
            np.ascontiguousarray(population.key[index]),
            np.uint64(seed_of("child", self.emitter.uid)),
            ordinal.astype(np.uint64),
            keys,
        )
        return ChildBirths(keys, when, self._inputs(population, since, lives.until, t1, index, when))

    def _afford(self, counts: np.ndarray) -> int:
        total = int(counts.sum())
        if total > MAX_BIRTHS_A_FRAME:
            raise BudgetError(
                f"{total:,} particles would be born from others in one frame; the limit is {MAX_BIRTHS_A_FRAME:,}.",
                where=f"{self.emitter.place}.births.rate",
                remedy="Lower the rate or how many a cue gives birth to, or the number of particles they come from.",
            )
        return total

    def _at_cue(self, number: int, cue: str, stopped: Callable[[], None]) -> ChildBirths:
        """Return the births at a cue of the parents, at its time and place, in the number that the cue gives."""
        happened, lives = self.parents.cue_times(number, cue, stopped), self.parents.lives(number, stopped)
        counts = np.floor(happened.state[:, 9] + 0.5).astype(np.int64) if len(happened) else np.zeros(0, np.int64)
        if self.emitter.timing.limit is not None:
            counts = np.minimum(counts, self.emitter.timing.limit)
        total = self._afford(counts)
        event = np.repeat(np.arange(len(happened)), counts)
        which = np.arange(total) - np.repeat(np.cumsum(counts) - counts, counts)
        keys, when = np.empty(total, np.uint64), happened.time[event]
        # by how often the cue had happened to the parent: keys do not hang on the last bit of a time
        ordinal = (happened.state[event, 10].astype(np.uint64) << np.uint64(20)) + which.astype(np.uint64)
        child_keys(
            np.ascontiguousarray(happened.key[event]), np.uint64(seed_of("child", self.emitter.uid)), ordinal, keys
        )
        order = np.argsort(lives.population.key, kind="stable")
        at = np.minimum(np.searchsorted(lives.population.key[order], happened.key), max(len(order) - 1, 0))
        parent = order[at][event] if len(order) else np.zeros(total, np.int64)
        state = happened.state[event]
        inputs = self._parent_columns(lives.population, parent, when, list(state[:, :3].T), list(state[:, 3:6].T))
        inputs |= {
            f"parent.normal.{i}": np.ascontiguousarray(state[:, 6 + i])
            for i in range(3)
            if f"parent.normal.{i}" in self.emitter.birth.inputs
        }
        return ChildBirths(keys, when, inputs)

    def _count(self, born: np.ndarray, at: np.ndarray, death: np.ndarray) -> np.ndarray:
        """Return the number of births of each parent up to a time, (n,)."""
        start = self.flow.total(born)
        first = np.maximum(self.flow.when(start), born)
        gone = self.flow.total(np.minimum(at, death)) - start
        so_far = np.where(first <= at, np.floor(gone + 1e-9) + 1, 0)
        most = np.ceil(self.flow.total(death) - start - 1e-9)  # those strictly before its end
        if self.emitter.timing.limit is not None:
            most = np.minimum(most, self.emitter.timing.limit)
        return np.maximum(0, np.minimum(so_far, most)).astype(np.int64)

    def _inputs(
        self, parents: Population, since: np.ndarray, until: Population, t1: float, index: np.ndarray, when: np.ndarray
    ) -> dict[str, np.ndarray]:
        order = np.argsort(until.key, kind="stable")
        at = np.searchsorted(until.key[order], parents.key)
        at = np.minimum(at, max(0, len(until) - 1))
        there = order[at] if len(until) else np.zeros(len(parents), np.int64)
        lives = (until.key[there] == parents.key) if len(until) else np.zeros(len(parents), bool)
        start = np.where(np.isfinite(since), since, t1)[index]
        span = t1 - start
        u = np.where(span > 0, (when - start) / np.where(span > 0, span, 1), 0.0)
        cubic = lives[index] & (span > 0)
        places, velocities = [], []
        for axis in range(3):
            p0, v0 = parents.position[axis].astype(F64)[index], parents.velocity[axis].astype(F64)[index]
            place, velocity = p0 + v0 * (when - start), v0
            if len(until):
                p1, v1 = until.position[axis].astype(F64)[there[index]], until.velocity[axis].astype(F64)[there[index]]
                h = np.where(span > 0, span, 1)
                curved = (
                    p0 * (1 + 2 * u) * (1 - u) ** 2
                    + p1 * u * u * (3 - 2 * u)
                    + v0 * h * u * (1 - u) ** 2
                    - v1 * h * u * u * (1 - u)
                )
                turning = (p1 - p0) / h * 6 * u * (1 - u) + v0 * (1 - u) * (1 - 3 * u) + v1 * u * (3 * u - 2)
                place, velocity = np.where(cubic, curved, place), np.where(cubic, turning, velocity)
            places.append(place.astype(F32))
            velocities.append(velocity.astype(F32))
        return self._parent_columns(parents, index, when, places, velocities)

    def _parent_columns(
        self,
        parents: Population,
        index: np.ndarray,
        when: np.ndarray,
        places: list[np.ndarray],
        velocities: list[np.ndarray],
    ) -> dict[str, np.ndarray]:
        """Return the parents' columns (by index) that the birth program reads: their positions and velocities at the
        births."""
        age = (when - parents.birth_time[index]).astype(F32)
        lifespan = parents.lifespan[index]
        inputs = {f"parent.position.{i}": column for i, column in enumerate(places)}
        inputs |= {f"parent.velocity.{i}": column for i, column in enumerate(velocities)}
        inputs |= {f"parent.name.{i}": piece[index] for i, piece in enumerate(split_keys(parents.key))}
        inputs |= {
            "parent.age": age,
            "parent.life": np.clip(age / lifespan, 0, 1),
            "parent.speed": np.sqrt(sum(v * v for v in velocities)),
        }
        if self._look is not None:
            x, y, z = places
            p, q, r = velocities
            carried = {name: column[index] for name, column in parents.carried.items()}
            then = Population.from_columns(
                parents.key[index], parents.birth_time[index], age, lifespan, (x, y, z), (p, q, r), carried
            )
            shown = self._look.show(then, when)
            inputs |= {f"parent.{name}": shown.column(name) for name in ("size", "opacity")}
            inputs |= {f"parent.colour.{i}": np.ascontiguousarray(shown.column("colour")[:, i]) for i in range(3)}
        return {
            name: np.ascontiguousarray(column, F32)
            for name, column in inputs.items()
            if name in self.emitter.birth.inputs
        }
