"""The frames of a loop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

EVEN = 1e-9  # of a frame: nearer to a frame than so, it is that one


@dataclass(frozen=True)
class Window:
    """Frames first..last, repeated: the first follows the last.

    way: `matched` or `blended`. over: frames at the end over which it turns into its beginning. low, high: available
    frames, with the run-up.
    """

    first: int
    last: int
    way: str
    over: float
    low: int
    high: int

    @classmethod
    def of(cls, loop: Any, clip: Any) -> Window | None:
        """Return a loop's window, clamped to the clip; None where nothing of it is left."""
        first, last = max(loop.first, clip.first_frame), min(loop.last, clip.last_frame)
        if last <= first:
            return None
        over = min(loop.over * float(clip.rate), (last + 1 - first) / 2)
        return cls(first, last, loop.way, over, clip.first_frame - clip.run_up, clip.last_frame)

    @property
    def length(self) -> int:
        """Number of frames."""
        return self.last + 1 - self.first

    def round(self, frames: float) -> tuple[int, float]:
        """Return the repetition of an unbounded time (0 in the window itself) and the corresponding time in the window,
        in frames."""
        near = round(frames)
        frames = near if abs(frames - near) < EVEN else frames
        turn = (frames - self.first) // self.length
        return int(turn), frames - turn * self.length
