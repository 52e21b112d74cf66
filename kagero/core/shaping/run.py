"""The frames of one emitter as they are shown: at other times, and in other places, than they were simulated."""

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
    """Nobody asks for a stop."""


class ShapedRun:
    """Gives the particles of a run as they are shown at frames, and at moments between them. parent: of the run whose particles its own are born
    from, the same."""

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
        """The first frame that there is: that of the run-up, where there is one; a loop has none."""
        return self.run.earliest - (ENDLESS if self.loop is not None else 0)

    # when ---------------------------------------------------------------------------------------------------------------
    def seconds(self, number: int, after: float = 0.0) -> float:
        """Return the simulated clip time that is seen so much of a frame after a frame: what looks are read at. In a loop, that of its window."""
        time = self._seen(self.plan.moment(number, after))[0]
        return time if self.loop is None else self.plan.within(self.loop.window, time)[1]

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
        if not self.times and self.loop is None:
            return number, after
        frames = self._frames(number, after)
        if self.loop is not None:
            frames = self.loop.window.round(frames)[1]
        whole = math.floor(frames + EVEN)
        return whole, max(frames - whole, 0.0) if frames - whole >= EVEN else 0.0

    def _frames(self, number: int, after: float) -> float:
        """Return which time is seen, in frames; in a loop, on a time without end."""
        if not self.times:
            return number + after
        return self.plan.first_frame + self._seen(self.plan.moment(number, after))[0] * float(self.plan.frame_rate)

    def since(self, population: Population, number: int, after: float = 0.0, longest: float = math.inf) -> np.ndarray:
        """Return for how long particles have been shown without a gap, seconds of the clip, (n,); told up to about the longest."""
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

    # who ----------------------------------------------------------------------------------------------------------------
    def frame(self, number: int, stopped: Callable[[], None] = never) -> Frame:
        """Return the stored frame behind a frame of the clip. Raises RequestError outside it."""
        if not self.plan.first_frame <= number <= self.plan.last_frame or not (self.times or self.loop):
            return self.run.frame(number, stopped)
        return self.run.frame_at(self.behind(number)[0], stopped)

    def known(self, number: int) -> Population | None:
        """Return who is simulated behind a frame, where that is stored already; else None."""
        first, after = self.behind(number)
        needed = (
            (first, first + 1)[: 2 if after else 1] if self.loop is None else self.loop.needs(self._frames(number, 0.0))
        )
        if any(self.run.store.get(self.run.address, k) is None for k in needed):
            return None
        return self.simulated(number)

    def simulated(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame, where the simulation has them."""
        if self.loop is not None:
            return self.loop.at(self._frames(number, after), stopped)
        first, late = self.behind(number, after)
        return between(self.run, first, late, stopped) if late else self.run.frame_at(first, stopped).population

    def at(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame (below nought before it), where and how they are shown."""
        return self.with_faults(number, after, stopped)[0]

    def with_faults(
        self, number: int, after: float = 0.0, stopped: Callable[[], None] = never
    ) -> tuple[Population, Faults]:
        """Return the same, and what was not finite of what moves them."""
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
    """Return particles with the velocities that they are seen to have."""
    if pace == 1.0 or not len(population):
        return population
    floats = population.floats.copy()
    floats[VELOCITY:CARRIED] *= np.float32(pace)
    return population.moved(floats)
