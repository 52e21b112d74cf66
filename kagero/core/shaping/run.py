"""The frames of one emitter as they are shown."""

from __future__ import annotations

from collections.abc import Callable

from cachetools import LRUCache

from ..engine import EngineChoice, Faults
from ..simulation import EmitterRun, Frame, Population, between
from .shaper import Shaper

KEPT = 64 << 20  # bytes of shaped particles that are kept: trails ask for the same frames again and again


def never() -> None:
    """Nobody asks for a stop."""


class ShapedRun:
    """Gives the particles of a run as they are shown at frames, and at moments between them. parent: of the run whose particles its own are born
    from, the same."""

    def __init__(self, run: EmitterRun, engine: EngineChoice | None = None, parent: ShapedRun | None = None):
        self.run, self.plan, self.parent = run, run.plan, parent
        self.shaper = Shaper(run.emitter, 1 / float(run.plan.frame_rate), engine)
        self._kept: LRUCache[tuple[int, float], tuple[Population, Faults]] = LRUCache(KEPT, lambda kept: kept[0].nbytes + 1)

    @property
    def earliest(self) -> int:
        """The first frame that there is: that of the run-up, where there is one."""
        return self.run.earliest

    def frame(self, number: int, stopped: Callable[[], None] = never) -> Frame:
        """Return the stored frame behind a shown one."""
        return self.run.frame(number, stopped)

    def simulated(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame, where the simulation has them."""
        return between(self.run, number, after, stopped) if after else self.run.frame_at(number, stopped).population

    def at(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> Population:
        """Return who is shown at a moment so much of a frame after a frame (below nought before it), where and how they are shown."""
        return self.with_faults(number, after, stopped)[0]

    def with_faults(self, number: int, after: float = 0.0, stopped: Callable[[], None] = never) -> tuple[Population, Faults]:
        """Return the same, and what was not finite of what moves them."""
        made: tuple[Population, Faults] | None = self._kept.get((number, after))
        if made is None:
            faults = Faults()
            simulated = self.simulated(number, after, stopped)
            made = self.shaper.shaped(simulated, self.plan.moment(number, after), faults), faults
            if made[0] is not simulated and made[0].nbytes < KEPT:
                self._kept[number, after] = made
        return made
