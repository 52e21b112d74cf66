"""A loop in which the end fades out as what comes before the beginning fades in."""

from __future__ import annotations

import math
from collections.abc import Callable

from .looped import EVEN, Looped, Part


class Blended(Looped):
    """Frames from a while before the window to its end are a time round; where two of them overlap, so much of each is there that it is one
    together. What there is before the window (of the clip, of its run-up) says how long they can overlap."""

    @property
    def over(self) -> float:
        return min(self.window.over, float(self.window.first - self.window.low))

    def shares(self, within: float) -> list[tuple[int, float, float]]:
        """Return the times round that are seen at a time of the window: which, the simulated time that is seen of it, and how much of it there is."""
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
