"""Loops: stored frames of a window shown again and again, over unbounded time.

What is shown at a time of the window is also shown, with other keys, any whole number of windows earlier and later. A
shown particle keeps its key from frame to frame, over the seam too; in the repetition in which it was simulated, that
is its own key.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from cachetools import LRUCache

from ..plan import Window
from ..simulation import CARRIED, EmitterRun, LoopRepeat, Population, between, join_keys, split_keys

EVEN = 1e-9  # of a frame: nearer to a stored frame than so, it is that one
ALWAYS = -1e9  # seconds: so much sooner, who goes round all the time has been there always
KEPT = 16  # moments, of which who is shown is kept
PARENT = [f"parent.name.{i}" for i in range(3)]


@dataclass(frozen=True)
class Part:
    """Particles as simulated, with a share of visibility (one, or one for each) and the number of repetitions later in
    which they are shown; None: in every repetition, as themselves."""

    population: Population
    turn: int | None
    share: np.ndarray | float = 1.0


class Looped:
    """The particles shown at times of a loop, in frames over unbounded time. Its subclasses are the kinds of loop."""

    def __init__(self, run: EmitterRun, window: Window):
        self.run, self.window = run, window
        self.rate = float(run.plan.frame_rate)
        self.length = window.length / self.rate  # seconds
        self._kept: LRUCache[float, Population] = LRUCache(KEPT)

    def at(self, frames: float, stopped: Callable[[], None]) -> Population:
        """Return the particles shown at a time, in order of birth, before any shaping."""
        frames = float(near) if abs(frames - (near := round(frames))) < EVEN else frames
        population: Population | None = self._kept.get(frames)
        if population is None:
            turn, within = self.window.round(frames)
            parts = [part for part in self.parts(within, stopped) if len(part.population)]
            if not parts:
                population = self.at_simulated(self.window.first, stopped).where(slice(0))
            else:  # in an order that is the same every time round
                begun = [
                    part.population.birth_time + (ALWAYS if part.turn is None else part.turn * self.length)
                    for part in parts
                ]
                order = np.argsort(np.concatenate(begun), kind="stable")
                population = Population.joined([self._repeated(part, turn) for part in parts]).where(order)
            self._kept[frames] = population
        return population

    def parts(self, within: float, stopped: Callable[[], None]) -> list[Part]:
        """Return the particles shown at a time of the window, in frames."""
        raise NotImplementedError

    def needs(self, frames: float) -> list[int]:
        """Return the stored frames that a time is made from."""
        raise NotImplementedError

    def lacks(self, stopped: Callable[[], None]) -> tuple[int, int]:
        """Return the number of particles that cannot be repeated as this kind of loop requires, and the further frames
        of run-up that would allow it."""
        raise NotImplementedError

    def at_simulated(self, frames: float, stopped: Callable[[], None]) -> Population:
        """Return the particles simulated at an available time."""
        whole = math.floor(frames + EVEN)
        late = frames - whole
        return between(self.run, whole, late, stopped) if late >= EVEN else self.run.frame_at(whole, stopped).population

    def seconds(self, frames: float) -> float:
        """Return the clip time of a (fractional) frame."""
        whole = math.floor(frames)
        return self.run.plan.moment(whole, frames - whole)

    def _repeated(self, part: Part, turn: int) -> Population:
        """Return particles as shown a number of repetitions later."""
        population, n = part.population, len(part.population)
        share = np.broadcast_to(np.asarray(part.share, np.float32), (n,)).copy()
        if part.turn is None:
            return replace(population, repeats=LoopRepeat(population.key, np.full(n, ALWAYS), share))
        turns = part.turn + turn
        repeated = replace(
            population,
            key=population.key ^ mark(turns),
            repeats=LoopRepeat(population.key, np.full(n, turns * self.length), share),
        )
        if turns and PARENT[0] in population.names:  # its parent has gone round as often
            rows = [CARRIED + population.names.index(name) for name in PARENT]
            floats = population.floats.copy()
            floats[rows] = split_keys(join_keys([floats[row] for row in rows]) ^ mark(turns))
            repeated = repeated.with_floats(floats)
        return repeated


def mark(turn: int) -> np.uint64:
    """Return the difference of keys in a repetition: zero in the window itself (splitmix64, Steele, Lea and Flood
    2014)."""
    if turn == 0:
        return np.uint64(0)
    mask = (1 << 64) - 1
    z = (turn * 0x9E3779B97F4A7C15) & mask
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & mask
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & mask
    return np.uint64(z ^ (z >> 31))
