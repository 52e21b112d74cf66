"""The frames of one emitter as shown: retimed, looped and shaped."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from cachetools import LRUCache

from ..engine import EngineChoice, Faults
from ..simulation import CARRIED, VELOCITY, EmitterRun, Frame, Population, between
from .blended import Blended
from .looped import Looped
from .matched import Matched
from .shaper import Shaper

WAYS: dict[str, type[Looped]] = {"matched": Matched, "blended": Blended}
ENDLESS = 1_000_000  # frames before the first that a loop was there already
KEPT = 64 << 20  # bytes of shaped particles that are kept: trails ask for the same frames again and again
EVEN = 1e-9  # of a frame: nearer to a stored frame than so, it is that one
LOOKED = 8  # times a frame, when it is asked since when a particle is shown


def never() -> None:
    """The default of `stopped`: never asks to stop."""


class ShapedRun:
    """The particles of a run as shown at frames, and at times between them. parent: the shaped run of the emitter whose
    particles emit these."""

    def __init__(self, run: EmitterRun, engine: EngineChoice | None = None, parent: ShapedRun | None = None):
        self.run, self.plan, self.parent = run, run.plan, parent
        window = run.emitter.loop
        self.loop = None if window is None else WAYS[window.way](run, window)
        times = [times for times in (run.plan.retimed, run.emitter.retimed) if times is not None]
        self.times = tuple(times if window is None else [each.endless() for each in times])
        self.shaper = Shaper(run.emitter, 1 / float(run.plan.frame_rate), engine)
        self._kept: LRUCache[tuple[int, float], tuple[Population, Faults]] = LRUCache(
            KEPT, lambda kept: kept[0].nbytes + 1
        )

    @property
    def earliest(self) -> int:
        """The first available frame: of the run-up, where there is one; a loop has none."""
        return self.run.earliest - (ENDLESS if self.loop is not None else 0)

    # when
    # ---------------------------------------------------------------------------------------------------------------
    def seconds(self, number: int, after: float = 0.0) -> float:
        """Return the simulated clip time shown `after` of a frame past a frame, at which looks are evaluated; in a
        loop, that of its window."""
        time = self._seen(self.plan.moment(number, after))[0]
        return time if self.loop is None else self.plan.within(self.loop.window, time)[1]

    def pace(self, number: int, after: float = 0.0) -> float:
        """Return the rate of simulated time then: 1 normal, 0 held, -1 backwards."""
        return self._seen(self.plan.moment(number, after))[1]

    def _seen(self, shown: float) -> tuple[float, float]:
        """Return the simulated time shown at a time, through the effect's curve and then the emitter's, and its
        rate."""
        time, pace = shown, 1.0
        for times in self.times:
            time, further = times(time)
            pace *= further
        return time, pace

    def behind(self, number: int, after: float = 0.0) -> tuple[int, float]:
        """Return the stored frame that is shown, and the fraction of a frame past it."""
        if not self.times and self.loop is None:
            return number, after
        frames = self._frames(number, after)
        if self.loop is not None:
            frames = self.loop.window.round(frames)[1]
        whole = math.floor(frames + EVEN)
        return whole, max(frames - whole, 0.0) if frames - whole >= EVEN else 0.0

    def _frames(self, number: int, after: float) -> float:
        """Return the time shown, in frames; in a loop, over unbounded time."""
        if not self.times:
            return number + after
        return self.plan.first_frame + self._seen(self.plan.moment(number, after))[0] * float(self.plan.frame_rate)

    def since(self, population: Population, number: int, after: float = 0.0, longest: float = math.inf) -> np.ndarray:
        """Return how long each particle has been shown without a gap, clip seconds, (n,), searched up to about the
        longest."""
        shown = self.plan.moment(number, after)
        born = population.birth_time if population.repeats is None else population.birth_time + population.repeats.late
        if not self.times:
            return np.maximum(shown - born, 0)
        step = 1 / (float(self.plan.frame_rate) * LOOKED)
        first = self.plan.seconds(self.earliest)
        back = shown - step * np.arange(max(2, math.ceil(min(longest, max(shown - first, 0)) / step) + 2))
        seen = np.array([self._seen(time)[0] for time in back])
        least = np.minimum.accumulate(seen)  # going back, the earliest time that was seen since
        k = np.searchsorted(-least, -born, side="left")  # the first at which it is born or was not yet
        k = np.clip(k, 1, len(back) - 1)
        over, under = least[k - 1], least[k]
        share = np.where(over > under, (over - born) / np.maximum(over - under, 1e-300), 1.0)
        return np.maximum((k - 1 + np.clip(share, 0, 1)) * step, 0)

    # who
    # ----------------------------------------------------------------------------------------------------------------
    def frame(self, number: int, stopped: Callable[[], None] = never) -> Frame:
        """Return the stored frame behind a frame of the clip. Raises RequestError outside it."""
        if not self.plan.first_frame <= number <= self.plan.last_frame or not (self.times or self.loop):
            return self.run.frame(number, stopped)
        return self.run.frame_at(self.behind(number)[0], stopped)

    def known(self, number: int) -> Population | None:
        """Return the particles simulated behind a frame, if that is stored already; otherwise None."""
        first, after = self.behind(number)
        needed = (
            (first, first + 1)[: 2 if after else 1] if self.loop is None else self.loop.needs(self._frames(number, 0.0))
        )
        if any(self.run.store.get(self.run.address, k) is None for k in needed):
            return None
        return self.simulated(number)

    def simulated(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return the particles shown `after` of a frame past a frame, at their simulated positions."""
        if self.loop is not None:
            return self.loop.at(self._frames(number, after), stopped)
        first, late = self.behind(number, after)
        return between(self.run, first, late, stopped) if late else self.run.frame_at(first, stopped).population

    def at(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return the particles shown `after` of a frame past a frame (negative: before it), at their shown
        positions."""
        return self.with_faults(number, after, stopped)[0]

    def with_faults(
        self, number: int, after: float = 0.0, stopped: Callable[[], None] = never
    ) -> tuple[Population, Faults]:
        """Return the same, and results of shaping that were not finite."""
        kept: tuple[Population, Faults] | None = self._kept.get((number, after))
        if kept is None:
            faults, pace = Faults(), self.pace(number, after)
            simulated = self.simulated(number, after, stopped)
            going = 1.0 if self.plan.retimed is None else self.plan.retimed(self.plan.moment(number, after))[1]
            shown = self.shaper.shaped(_paced(simulated, pace), self.plan.scene(number, after), faults, pace, going)
            kept = shown, faults
            if (shown is not simulated or self.loop is not None) and shown.nbytes < KEPT:
                self._kept[number, after] = kept
        return kept


def _paced(population: Population, pace: float) -> Population:
    """Return particles with their apparent velocities."""
    if pace == 1.0 or not len(population):
        return population
    floats = population.floats.copy()
    floats[VELOCITY:CARRIED] *= np.float32(pace)
    return population.with_floats(floats)
