"""The frames of one emitter as they are shown: at other times, and in other places, than they were simulated."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from cachetools import LRUCache

from ..engine import EngineChoice, Faults
from ..simulation import CARRIED, WAY, EmitterRun, Frame, Population, between
from .shaper import Shaper

KEPT = 64 << 20  # bytes of shaped particles that are kept: trails ask for the same frames again and again
EVEN = 1e-9  # of a frame: nearer to a stored frame than so, it is that one
LOOKED = 8  # times a frame, when it is asked since when a particle is shown


def never() -> None:
    """Nobody asks for a stop."""


class ShapedRun:
    """Gives the particles of a run as they are shown at frames, and at moments between them. parent: of the run whose particles its own are born
    from, the same."""

    def __init__(self, run: EmitterRun, engine: EngineChoice | None = None, parent: ShapedRun | None = None):
        self.run, self.plan, self.parent = run, run.plan, parent
        self.times = tuple(times for times in (run.plan.retimed, run.emitter.retimed) if times is not None)
        self.shaper = Shaper(run.emitter, 1 / float(run.plan.frame_rate), engine)
        self._kept: LRUCache[tuple[int, float], tuple[Population, Faults]] = LRUCache(KEPT, lambda kept: kept[0].nbytes + 1)

    @property
    def earliest(self) -> int:
        """The first frame that there is: that of the run-up, where there is one."""
        return self.run.earliest

    # when ---------------------------------------------------------------------------------------------------------------
    def seconds(self, number: int, after: float = 0.0) -> float:
        """Return the simulated clip time that is seen so much of a frame after a frame: what looks are read at."""
        return self._seen(self.plan.moment(number, after))[0]

    def pace(self, number: int, after: float = 0.0) -> float:
        """Return how fast simulated time goes then: 1 full speed, 0 held, -1 backwards."""
        return self._seen(self.plan.moment(number, after))[1]

    def _seen(self, shown: float) -> tuple[float, float]:
        """Return which simulated time is seen at a shown one, through the effect's curve and then the emitter's, and how fast it goes."""
        time, pace = shown, 1.0
        for times in self.times:
            time, further = times(time)
            pace *= further
        return time, pace

    def behind(self, number: int, after: float = 0.0) -> tuple[int, float]:
        """Return which stored frame is seen, and how much of a frame after it."""
        if not self.times:
            return number, after
        frames = self.seconds(number, after) * float(self.plan.frame_rate)
        whole = math.floor(frames + EVEN)
        return self.plan.first_frame + whole, max(frames - whole, 0.0) if frames - whole >= EVEN else 0.0

    def since(self, population: Population, number: int, after: float = 0.0, longest: float = math.inf) -> np.ndarray:
        """Return for how long particles have been shown without a gap, seconds of the clip, (n,); told up to about the longest."""
        shown = self.plan.moment(number, after)
        if not self.times:
            return np.maximum(shown - population.birth_time, 0)
        step = 1 / (float(self.plan.frame_rate) * LOOKED)
        first = self.plan.seconds(self.earliest)
        back = shown - step * np.arange(max(2, math.ceil(min(longest, max(shown - first, 0)) / step) + 2))
        seen = np.array([self._seen(time)[0] for time in back])
        least = np.minimum.accumulate(seen)  # going back, the earliest time that was seen since
        k = np.searchsorted(-least, -population.birth_time, side="left")  # the first at which it is born or was not yet
        k = np.clip(k, 1, len(back) - 1)
        over, under = least[k - 1], least[k]
        share = np.where(over > under, (over - population.birth_time) / np.maximum(over - under, 1e-300), 1.0)
        return np.maximum((k - 1 + np.clip(share, 0, 1)) * step, 0)

    # who ----------------------------------------------------------------------------------------------------------------
    def frame(self, number: int, stopped: Callable[[], None] = never) -> Frame:
        """Return the stored frame behind a frame of the clip. Raises RequestError outside it."""
        if not self.plan.first_frame <= number <= self.plan.last_frame or not self.times:
            return self.run.frame(number, stopped)
        return self.run.frame_at(self.behind(number)[0], stopped)

    def known(self, number: int) -> Population | None:
        """Return who is simulated behind a frame, where that is stored already; else None."""
        first, after = self.behind(number)
        stored = [self.run.store.get(self.run.address, k) for k in (first, first + 1)[: 2 if after else 1]]
        if None in stored:
            return None
        return self.simulated(number)

    def simulated(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame, where the simulation has them."""
        first, late = self.behind(number, after)
        return between(self.run, first, late, stopped) if late else self.run.frame_at(first, stopped).population

    def at(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame (below nought before it), where and how they are shown."""
        return self.with_faults(number, after, stopped)[0]

    def with_faults(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> tuple[Population, Faults]:
        """Return the same, and what was not finite of what moves them."""
        made: tuple[Population, Faults] | None = self._kept.get((number, after))
        if made is None:
            faults, pace = Faults(), self.pace(number, after)
            simulated = self.simulated(number, after, stopped)
            going = 1.0 if self.plan.retimed is None else self.plan.retimed(self.plan.moment(number, after))[1]
            shown = self.shaper.shaped(_paced(simulated, pace), self.plan.scene(number, after), faults, pace, going)
            made = shown, faults
            if shown is not simulated and shown.nbytes < KEPT:
                self._kept[number, after] = made
        return made


def _paced(population: Population, pace: float) -> Population:
    """Return particles with the velocities that they are seen to have."""
    if pace == 1.0 or not len(population):
        return population
    floats = population.floats.copy()
    floats[WAY:CARRIED] *= np.float32(pace)
    return Population(population.key, population.birth_time, floats, population.names)
