"""From shown to simulated time."""

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

    at, shows: of its keys; shapes: how it goes on from each. Smooth pieces are monotone cubics (Fritsch and Butland 1984), so that time never turns
    back between two keys that do not. Before its first key and after its last it stands still, as curves do. low, high: the simulated times that
    there are: beyond them it stands still too.
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
        """Return the curve over a time without end, that of a loop."""
        return replace(self, low=-math.inf, high=math.inf)

    def __call__(self, shown: float) -> tuple[float, float]:
        """Return the simulated time that is seen at a shown one, and how fast it goes there: 1 full speed, 0 held, -1 backwards."""
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
