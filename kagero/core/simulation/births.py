"""When births happen: birth n where the integral of the rate crosses n (n = 0 at the start), whatever the substeps.

The births of a clip are known before the first step: a stochastic process made definite, after Reeves, "Particle
systems", ACM Transactions on Graphics 2 (1983), with the randomness moved from how many to which.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..engine import Prepared
from ..errors import BudgetError
from ..kernels.random import burst_keys, seed_of
from ..plan import EmitterPlan

MAX_BIRTHS = 5_000_000
GRID = 1 / 960  # seconds between the samples of a rate that changes; divides the frame of 24, 30 and 60 a second


@dataclass(frozen=True)
class Schedule:
    """All births of one emitter up to a time: exact times (float64, seconds, ascending) and permanent keys (uint64)."""

    times: np.ndarray
    keys: np.ndarray

    def between(self, after: float, until: float, *, first: bool = False) -> slice:
        """Return the births in (after, until], or in [after, until] at the first frame."""
        low = np.searchsorted(self.times, after, side="left" if first else "right")
        return slice(int(low), int(np.searchsorted(self.times, until, side="right")))


def schedule_births(plan: EmitterPlan, rate: Prepared, until: float) -> Schedule:
    """Return the births from clip time 0 to `until` (seconds).

    Raises BudgetError, before anything is computed for particles, when there would be more than MAX_BIRTHS.
    """
    timing = plan.timing
    bursts = [burst for burst in timing.bursts if burst[1] <= until]
    end = min(timing.end, until + 1e-9)
    times = np.empty(0)
    burst_total = sum(count for _, _, count in bursts)
    _within_budget(burst_total, plan)
    if end > timing.start:
        if timing.constant_rate is not None:
            times = _constant(plan, np.float64(np.float32(timing.constant_rate)), timing.start, end)
        else:
            times = _driven(plan, rate, timing.start, end)
        times = times[times <= until]
    _within_budget(len(times) + burst_total, plan)
    all_times, all_keys = [times], [np.arange(len(times), dtype=np.uint64)]
    for uid, when, count in bursts:
        all_times.append(np.full(count, when))
        all_keys.append(burst_keys(seed_of("burst", uid), count))
    joined, keys = np.concatenate(all_times), np.concatenate(all_keys)
    order = np.argsort(joined, kind="stable")
    return Schedule(joined[order], keys[order])


def _constant(plan: EmitterPlan, rate: float, start: float, end: float) -> np.ndarray:
    if rate <= 0:
        return np.empty(0)
    total = rate * (end - start)
    _within_budget(total, plan)
    return start + np.arange(_whole(total)) / rate


def _driven(plan: EmitterPlan, rate: Prepared, start: float, end: float) -> np.ndarray:
    """Births of a changing rate: sampled on a fixed grid, linear between samples, inverted exactly in each cell."""
    samples = math.ceil((end - start) / GRID) + 1
    at = np.minimum(start + np.arange(samples) * GRID, end)
    rates = rate.run(plan.values, {"time": at.astype(np.float32)}, samples)["rate"].astype(np.float64)
    widths = np.diff(at)
    total = np.concatenate([[0.0], np.cumsum((rates[1:] + rates[:-1]) / 2 * widths)])
    _within_budget(total[-1], plan)
    n = np.arange(_whole(total[-1]), dtype=np.float64)
    cell = np.clip(np.searchsorted(total, n, side="right") - 1, 0, samples - 2)
    need = n - total[cell]
    r0, slope = rates[cell], (rates[cell + 1] - rates[cell]) / np.where(widths[cell] > 0, widths[cell], 1)
    # solve r0 t + slope t^2 / 2 = need; this form of the root loses no digits when the slope is small
    root = np.sqrt(np.maximum(r0 * r0 + 2 * slope * need, 0))
    t = np.where(need > 0, 2 * need / np.maximum(r0 + root, 1e-300), 0.0)
    return at[cell] + np.clip(t, 0, widths[cell])


def _whole(total: float) -> int:
    """How many of n = 0, 1, 2, ... lie below the integral; a rounding error above a whole number is none."""
    return max(0, math.ceil(total - 1e-9 * max(1.0, total)))


def _within_budget(births: float, plan: EmitterPlan) -> None:
    if births > MAX_BIRTHS:
        raise BudgetError(
            f"This emitter would give birth to {births:,.0f} particles over the clip; the limit is {MAX_BIRTHS:,}.",
            where=f"{plan.place}.births.rate",
            remedy="Lower the rate or the bursts, or shorten the clip or the duration.",
        )
