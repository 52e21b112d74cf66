"""Blended loops: the end fades out while what precedes the beginning fades in."""

from __future__ import annotations

import math
from collections.abc import Callable

from .looped import EVEN, Looped, Part


class Blended(Looped):
    """One repetition consists of the frames from some time before the window to its end; where two repetitions overlap,
    their shares add up to one. The frames available before the window (of the clip or its run-up) limit the overlap."""

    @property
    def over(self) -> float:
        return min(self.window.over, float(self.window.first - self.window.low))

    def shares(self, within: float) -> list[tuple[int, float, float]]:
        """Return the repetitions shown at a time of the window: their number, simulated time and share."""
        end, over = self.window.last + 1, self.over
        gone = (within - (end - over)) / over if over > EVEN and within > end - over else 0.0
        parts = [(0, within, 1 - gone)]
        if gone:
            parts.append((1, within - self.window.length, gone))
        return parts

    def parts(self, within: float, stopped: Callable[[], None]) -> list[Part]:
        return [Part(self.at_simulated(time, stopped), turn, share) for turn, time, share in self.shares(within)]

    def lacks(self, stopped: Callable[[], None]) -> tuple[int, int]:
        lacking = math.ceil(self.window.over - self.over - EVEN)
        return (len(self.at_simulated(self.window.last, stopped)), lacking) if lacking > 0 else (0, 0)

    def needs(self, frames: float) -> list[int]:
        return [
            k
            for _, time, _ in self.shares(self.window.round(frames)[1])
            for k in {math.floor(time + EVEN), math.ceil(time - EVEN)}
        ]
