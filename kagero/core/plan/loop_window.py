"""The window of a loop, in frames."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

EVEN = 1e-9  # of a frame: nearer to a frame than so, it is that one


@dataclass(frozen=True)
class Window:
    """Frames first..last, shown again and again: after the last comes the first.

    way: `matched` or `blended`; over: frames at its end over which it becomes its beginning. low, high: the frames that there are, those of the
    run-up among them.
    """

    first: int
    last: int
    way: str
    over: float
    low: int
    high: int

    @classmethod
    def of(cls, loop: Any, clip: Any) -> Window | None:
        """Return the window of a loop, held within the clip; None where nothing of it is there."""
        first, last = max(loop.first, clip.first_frame), min(loop.last, clip.last_frame)
        if last <= first:
            return None
        over = min(loop.over * float(clip.rate), (last + 1 - first) / 2)
        return cls(first, last, loop.way, over, clip.first_frame - clip.run_up, clip.last_frame)

    @property
    def length(self) -> int:
        """How many frames it has."""
        return self.last + 1 - self.first

    def round(self, frames: float) -> tuple[int, float]:
        """Return which time round a time without end is in, 0 in the window itself, and the time within the window that it shows; in frames."""
        near = round(frames)
        frames = near if abs(frames - near) < EVEN else frames
        turn = (frames - self.first) // self.length
        return int(turn), frames - turn * self.length
