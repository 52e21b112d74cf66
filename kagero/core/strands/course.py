"""Points of lines in order, concatenated, each line from its head to its far end."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..errors import BudgetError
from ..shaping import ShapedRun
from ..simulation import Population, ShownParticles

F32 = np.float32
MOST_PLACES = 200_000  # of all lines of a look together


@dataclass(frozen=True)
class StrandRequest:
    """What lines are built from: a look's settings, the frame's number, the particles in this look, and the run that
    gives other frames. seconds: the requested clip time, `after` of a frame past that frame."""

    settings: Any
    number: int
    seconds: float
    shown: ShownParticles
    run: ShapedRun
    stopped: Callable[[], None]
    after: float = 0.0

    def population(self, run: ShapedRun) -> Population:
        """Return the particles of a run at the requested time."""
        return run.at(self.number, self.after, self.stopped)


@dataclass(frozen=True)
class StrandPoints:
    """points: (p, 3) float32, metres. joined: whether each is connected to the point before it, (p,) bool. owner: its
    particle, (p,). other, share: for points between two particles, the second one and the share of the way to it,
    (p,)."""

    points: np.ndarray
    joined: np.ndarray
    owner: np.ndarray
    other: np.ndarray | None = None
    share: np.ndarray | None = None

    @classmethod
    def nowhere(cls) -> StrandPoints:
        return cls(np.zeros((0, 3), F32), np.zeros(0, bool), np.zeros(0, np.int64))

    @classmethod
    def of_each(cls, points: np.ndarray) -> StrandPoints:
        """Return lines of equal length, one for each particle: points (n, k, 3)."""
        n, k = points.shape[:2]
        joined = np.ones((n, k), bool)
        joined[:, -1] = False
        return cls(points.reshape(-1, 3).astype(F32), joined.ravel(), np.repeat(np.arange(n), k))

    @property
    def begins(self) -> np.ndarray:
        """Whether each point is the head of its line, (p,) bool."""
        return np.concatenate([[True], ~self.joined[:-1]]) if len(self.points) else np.zeros(0, bool)

    def lengths(self) -> tuple[np.ndarray, np.ndarray]:
        """Return each point's distance along its line, as a share of the line's length and in metres, (p,) float32
        each."""
        if not len(self.points):
            return np.zeros(0, F32), np.zeros(0, F32)
        step = np.zeros(len(self.points))
        gone = np.linalg.norm(np.diff(self.points.astype(np.float64), axis=0), axis=1)
        step[1:] = np.where(self.joined[:-1], gone, 0)
        line = np.cumsum(self.begins) - 1
        total = np.bincount(line, step)
        whole = np.cumsum(step)
        metres = whole - whole[np.flatnonzero(self.begins)][line]
        return (metres / np.maximum(total[line], 1e-12)).astype(F32), metres.astype(F32)

    def tangents(self) -> np.ndarray:
        """Return the unit tangent at each point, (p, 3): the mean of those of the two segments that meet there."""
        tangents = np.zeros((len(self.points), 3))
        if len(self.points) < 2:
            return tangents
        piece = np.diff(self.points.astype(np.float64), axis=0)
        piece /= np.maximum(np.linalg.norm(piece, axis=1, keepdims=True), 1e-12)
        piece *= self.joined[:-1, None]
        tangents[:-1] += piece
        tangents[1:] += piece
        return tangents / np.maximum(np.linalg.norm(tangents, axis=1, keepdims=True), 1e-12)


def within_budget(places: int, what: str, remedy: str) -> None:
    """Raise BudgetError where lines would have too many points."""
    if places > MOST_PLACES:
        raise BudgetError(
            f"{what} would have {places:,} places; the limit is {MOST_PLACES:,}.", where="look", remedy=remedy
        )
