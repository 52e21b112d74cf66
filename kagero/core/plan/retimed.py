"""The mapping from shown to simulated time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import scipy


@dataclass(frozen=True)
class TimeMap:
    """A curve from shown to simulated clip time, seconds, in float64.

    at, shows: shown and simulated time of each key; shapes: of the piece after each key. Smooth pieces are monotone
    cubics (Fritsch and Butland 1984), so that time never runs backwards between two ascending keys. Before the first
    and after the last key it is constant. low, high: available simulated times; the curve is clamped to them.
    """

    at: tuple[float, ...]
    shows: tuple[float, ...]
    shapes: tuple[str, ...]
    low: float
    high: float

    @classmethod
    def of(cls, keys: Sequence[Any], low: float, high: float) -> TimeMap:
        return cls(
            tuple(key.at for key in keys), tuple(key.shows for key in keys), tuple(key.shape for key in keys), low, high
        )

    def endless(self) -> TimeMap:
        """Return the curve over unbounded time, for a loop."""
        return replace(self, low=-math.inf, high=math.inf)

    def __call__(self, shown: float) -> tuple[float, float]:
        """Return the simulated time shown at a time, and its rate: 1 normal, 0 held, -1 backwards."""
        time, pace = self._free(shown)
        return (time, pace) if self.low <= time <= self.high else (min(max(time, self.low), self.high), 0.0)

    def _free(self, shown: float) -> tuple[float, float]:
        if not self.at[0] <= shown <= self.at[-1] or len(self.at) == 1:
            return (self.shows[0] if shown < self.at[0] else self.shows[-1]), 0.0
        k = min(int(np.searchsorted(self.at, shown, side="right")), len(self.at) - 1) - 1
        if self.shapes[k] == "hold":
            return (self.shows[k] if shown < self.at[k + 1] else self.shows[k + 1]), 0.0
        span, rise, gone = self.at[k + 1] - self.at[k], self.shows[k + 1] - self.shows[k], shown - self.at[k]
        if self.shapes[k] == "linear":
            return self.shows[k] + gone * (rise / span), rise / span
        slopes = (
            scipy.interpolate.PchipInterpolator(self.at, self.shows).derivative()(self.at)
            if len(self.at) > 2
            else np.full(2, rise / span)
        )
        a, b, u = float(slopes[k]), float(slopes[k + 1]), gone / span
        time = self.shows[k] + rise * u * u * (3 - 2 * u) + span * (a * u * (1 - u) ** 2 - b * u * u * (1 - u))
        return time, rise / span * 6 * u * (1 - u) + a * (1 - u) * (1 - 3 * u) + b * u * (3 * u - 2)
