"""When births happen: birth n where the integral of the rate crosses n (n = 0 at the start), whatever the substeps.

The births of a clip are known before the first step: a stochastic process made definite, after Reeves, "Particle
systems", ACM Transactions on Graphics 2 (1983), with the randomness moved from how many to which.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from ..engine import Faults, Prepared
from ..errors import BudgetError
from ..kernels.random import burst_keys, seed_of
from ..plan import EmitterPlan

MAX_BIRTHS = 5_000_000
GRID = 1 / 960  # seconds between the first samples of a rate that changes; divides the frame of 24, 30 and 60 a second
REFINED = 32  # how often a cell is halved at most
MOST_SAMPLES = 2_000_000


@dataclass(frozen=True)
class Schedule:
    """All births of one emitter up to a time: exact times (float64, seconds, ascending) and permanent keys (uint64).

    faults: rates that were not finite and were replaced.
    """

    times: np.ndarray
    keys: np.ndarray
    faults: Faults = field(default_factory=Faults)

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
    times, faults = np.empty(0), Faults()
    burst_total = sum(count for _, _, count in bursts)
    _within_budget(burst_total, plan)
    if end > timing.start:
        if timing.constant_rate is not None:
            times = _constant(plan, np.float64(np.float32(timing.constant_rate)), timing.start, end)
        else:
            times = _driven(plan, rate, timing.start, end, faults)
        times = times[times <= until]
    _within_budget(len(times) + burst_total, plan)
    all_times, all_keys = [times], [np.arange(len(times), dtype=np.uint64)]
    for uid, when, count in bursts:
        all_times.append(np.full(count, when))
        all_keys.append(burst_keys(seed_of("burst", uid), count))
    joined, keys = np.concatenate(all_times), np.concatenate(all_keys)
    order = np.argsort(joined, kind="stable")
    return Schedule(joined[order], keys[order], faults)


def _constant(plan: EmitterPlan, rate: float, start: float, end: float) -> np.ndarray:
    if rate <= 0:
        return np.empty(0)
    total = rate * (end - start)
    _within_budget(total, plan)
    return start + np.arange(_whole(total)) / rate


def _driven(plan: EmitterPlan, rate: Prepared, start: float, end: float, faults: Faults) -> np.ndarray:
    """Births of a changing rate: sampled on a grid that is refined where the rate bends or jumps, linear between samples,
    inverted exactly in each cell. A jump is found to the float32 at which it happens; the rate before it holds until there."""
    at, rates, jumps = _sampled(plan, rate, start, end, faults)
    widths = np.diff(at)
    left, right = rates[:-1], np.where(jumps, rates[:-1], rates[1:])
    total = np.concatenate([[0.0], np.cumsum((left + right) / 2 * widths)])
    # what a jump's place in time may be wrong by, as float32 has it, must not make or lose a birth
    unsure = np.concatenate([[0.0], np.cumsum(np.where(jumps, 4 * np.abs(rates[1:] - left) * widths, 0.0))])
    whole = np.rint(total)
    total = np.where(np.abs(total - whole) <= unsure + 1e-9 * np.maximum(1.0, total), whole, total)
    _within_budget(total[-1], plan)
    n = np.arange(_whole(total[-1]), dtype=np.float64)
    cell = np.clip(np.searchsorted(total, n, side="right") - 1, 0, len(widths) - 1)
    need = n - total[cell]
    r0, slope = left[cell], (right[cell] - left[cell]) / np.where(widths[cell] > 0, widths[cell], 1)
    # solve r0 t + slope t^2 / 2 = need; this form of the root loses no digits when the slope is small
    root = np.sqrt(np.maximum(r0 * r0 + 2 * slope * need, 0))
    t = np.where(need > 0, 2 * need / np.maximum(r0 + root, 1e-300), 0.0)
    return at[cell] + np.clip(t, 0, widths[cell])


def _sampled(plan: EmitterPlan, rate: Prepared, start: float, end: float, faults: Faults) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return times, rates there, and which of the cells between them are jumps."""

    def rates_at(times: np.ndarray) -> np.ndarray:
        return rate.run(plan.values, {"time": times.astype(np.float32)}, len(times), faults)["rate"].astype(np.float64)

    samples = math.ceil((end - start) / GRID) + 1
    at = np.minimum(start + np.arange(samples) * GRID, end)
    rates = rates_at(at)
    settled = np.zeros(samples - 1, bool)
    jumps = np.zeros(samples - 1, bool)
    for _ in range(REFINED):
        open_ones = np.flatnonzero(~settled)
        if not len(open_ones) or len(at) > MOST_SAMPLES:
            break
        a, b = at[open_ones], at[open_ones + 1]
        middle = ((a + b) / 2).astype(np.float32)
        apart = (middle > a.astype(np.float32)) & (middle < b.astype(np.float32))
        between = rates_at(middle)
        r0, r1 = rates[open_ones], rates[open_ones + 1]
        noise = 4e-7 * np.maximum(np.maximum(np.abs(r0), np.abs(r1)), np.abs(between))  # as float32 computes rates
        bent = np.abs(between - (r0 + r1) / 2) > noise + 1e-8 / np.maximum(b - a, 1e-12)
        jumps[open_ones] = ~apart & (np.abs(r1 - r0) > noise)
        settled[open_ones] = ~(bent & apart)
        new = open_ones[bent & apart]
        at = np.insert(at, new + 1, middle[bent & apart].astype(np.float64))
        rates = np.insert(rates, new + 1, between[bent & apart])
        settled, jumps = (np.insert(flags, new + 1, False) for flags in (settled, jumps))
    return at, rates, jumps


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
