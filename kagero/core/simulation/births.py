"""Birth times: birth n happens where the integral of the rate crosses n (n = 0 at the start), whatever the number of
substeps.

Times are float64. `snap_times` puts a birth that rounding moved off a frame or step back onto it. A birth exactly at a
frame belongs to that frame; one exactly at the end of a duration does not happen. Times do not depend on where the clip
ends; only later births are left out.

All births of a clip are known before the first step: a stochastic process made deterministic, after Reeves, "Particle
systems", ACM Transactions on Graphics 2 (1983), with the randomness moved from the number of births to the particles.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from ..engine import Faults, Prepared
from ..errors import BudgetError
from ..kernels.random import burst_keys, seed_of
from ..plan import EmitterPlan, Timing
from ..work_limits import spend

MAX_BIRTHS = 5_000_000
BirthTest = Callable[[np.ndarray, np.ndarray], np.ndarray]
GRID = 1 / 960  # seconds between the first samples of a rate that changes; divides the frame of 24, 30 and 60 a second
REFINED = 32  # how often a cell is halved at most
MAX_RATE_SAMPLES = 2_000_000


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


def schedule_births(
    plan: EmitterPlan,
    rate: Prepared,
    until: float,
    begins: Prepared | None = None,
    comes: BirthTest | None = None,
    parts: int | None = None,
) -> Schedule:
    """Return the births up to clip time `until` (seconds).

    begins: program that gives each birth's time as a share of the duration. comes: for births by key and time, whether
    each happens, (n,) bool; None where all do. A limit counts only those that do. parts: number of particles born
    together at the start, in place of rate and bursts.

    Raises BudgetError for more than MAX_BIRTHS, before anything is computed for particles.
    """
    timing, faults = plan.timing, Faults()
    bursts = [burst for burst in timing.bursts if burst[1] <= until and parts is None]
    _within_budget(sum(count for _, _, count in bursts), plan)
    # births with times of their own may be due after the clip's end: they are counted, and left out
    horizon = until
    if begins is not None and math.isfinite(timing.end):
        horizon = max(until, timing.end) if timing.every is None else until + timing.end - timing.start
    found = _in_order_of_keys(plan, rate, horizon, bursts, parts, faults)
    order = np.argsort(found.times, kind="stable")
    if timing.limit is not None and comes is None:
        order = order[: timing.limit]
    times, keys = found.times[order], found.keys[order]
    if begins is not None and len(keys):
        times = _own_times(plan, begins, keys, found.starts[order], found.ends[order], faults)
    if timing.limit is not None and comes is not None:
        times, keys = _first_kept(times, keys, timing.limit, comes)
    if begins is not None:
        order = np.argsort(times, kind="stable")
        order = order[times[order] <= until]
        times, keys = times[order], keys[order]
    return Schedule(times, keys, faults)


@dataclass(frozen=True)
class _Found:
    """Births, each with the window that it belongs to, clip seconds: (n,) each."""

    times: np.ndarray
    keys: np.ndarray
    starts: np.ndarray
    ends: np.ndarray


def _in_order_of_keys(
    plan: EmitterPlan,
    rate: Prepared,
    horizon: float,
    bursts: list[tuple[str, float, int]],
    parts: int | None,
    faults: Faults,
) -> _Found:
    """Return the births up to a clip time: those of the rate by windows, then those of bursts."""
    timing = plan.timing
    burst_total = sum(count for _, _, count in bursts)
    times, starts, ends = [np.empty(0)], [np.empty(0)], [np.empty(0)]
    for start, end in windows(plan, horizon):
        spend(100)
        here = _in_window(plan, rate, start, end, horizon, parts, faults)
        times.append(here)
        starts.append(np.full(len(here), start))
        ends.append(np.full(len(here), min(end, horizon)))
        _within_budget(sum(len(part) for part in times) + burst_total, plan)
    keys = [np.arange(sum(len(part) for part in times), dtype=np.uint64)]
    last = min(timing.end, horizon)
    for uid, when, count in bursts:
        times.append(np.full(count, when))
        keys.append(burst_keys(seed_of("burst", uid), count))
        starts.append(np.full(count, when))
        ends.append(np.full(count, max(when, last)))
    return _Found(*(np.concatenate(each) for each in (times, keys, starts, ends)))


def _in_window(
    plan: EmitterPlan, rate: Prepared, start: float, end: float, horizon: float, parts: int | None, faults: Faults
) -> np.ndarray:
    """Return the times of births within a window, up to the horizon, clip seconds."""
    reach = min(end, _end_of_search(start, horizon))
    constant = plan.timing.constant_rate
    if parts is not None:
        times = np.full(parts, start)
    elif constant is not None:
        times = _constant_rate_births(plan, constant, start, reach)
    else:
        times = _changing_rate_births(plan, rate, start, reach, faults)
    times = snap_times(times, plan.timing)
    return times[times <= horizon] if reach < end else times[(times <= horizon) & (times < end)]


def _own_times(
    plan: EmitterPlan, begins: Prepared, keys: np.ndarray, starts: np.ndarray, ends: np.ndarray, faults: Faults
) -> np.ndarray:
    """Return the times of births that each have one of their own: a share of their window, clip seconds."""
    shares = []
    for at in range(0, len(keys), BIRTHS_BLOCK):
        inputs = {"key": keys[at : at + BIRTHS_BLOCK], "birth_time": starts[at : at + BIRTHS_BLOCK]}
        shares.append(begins.run(plan.values, inputs, len(inputs["key"]), faults)["begins"])
    share = np.clip(np.concatenate(shares).astype(np.float64), 0, 1)
    return snap_times(starts + share * (ends - starts), plan.timing)


def _first_kept(times: np.ndarray, keys: np.ndarray, limit: int, comes: BirthTest) -> tuple[np.ndarray, np.ndarray]:
    """Return the births up to the one with which `limit` births have happened; births that a condition prevents do not
    count."""
    found, at = 0, 0
    while at < len(keys) and found < limit:
        kept = np.cumsum(comes(keys[at : at + BIRTHS_BLOCK], times[at : at + BIRTHS_BLOCK]))
        if found + (kept[-1] if len(kept) else 0) >= limit:
            at += int(np.searchsorted(kept, limit - found)) + 1
            break
        found, at = found + int(kept[-1]), at + len(kept)
    return (times[:at], keys[:at]) if limit else (times[:0], keys[:0])


TIME_ROUNDING = 1e-9  # seconds: what rounding may have done to a time of birth


def snap_times(times: np.ndarray, timing: Timing) -> np.ndarray:
    """Return times (n,), seconds, moved back onto the frame or step that rounding moved them off."""
    for rate in dict.fromkeys([timing.frame_rate * timing.substeps, timing.frame_rate]):
        there = np.rint(times * float(rate)) * rate.denominator / rate.numerator
        times = np.where(np.abs(times - there) <= TIME_ROUNDING, there, times)
    return times


def _end_of_search(start: float, until: float) -> float:
    """Return the time at which the search for births up to a time ends: a whole number of grid cells after the start,
    so that results do not depend on `until`."""
    return start + (max(0, math.ceil((until - start) / GRID)) + 1) * GRID


BIRTHS_BLOCK = 262_144
MOST_WINDOWS = 10_000


def windows(plan: EmitterPlan, until: float) -> list[tuple[float, float]]:
    """Return start and end (seconds) of each run of an emitter up to a time: one, or one after every `every` seconds.

    Raises BudgetError for too many.
    """
    timing = plan.timing
    if timing.every is None:
        return [(timing.start, timing.end)] if timing.start <= until and timing.end > timing.start else []
    length = min(timing.end - timing.start, timing.every)
    count = max(0, math.floor((until - timing.start) / timing.every + 1e-9) + 1)
    if count > MOST_WINDOWS:
        raise BudgetError(
            f"This emitter would begin {count:,} times over the clip; the limit is {MOST_WINDOWS:,}.",
            where=f"{plan.place}.births.every",
            remedy="Let it run again less often.",
        )
    starts = snap_times(timing.start + np.arange(count) * timing.every, timing)
    return [(float(start), float(start) + length) for start in starts if start <= until]


class RateIntegral:
    """The integral of an emitter's rate over time and its inverse, for births from particles, where every parent has
    its own count."""

    def __init__(self, plan: EmitterPlan, rate: Prepared, until: float):
        self.faults = Faults()
        starts, widths, before, after = [], [], [], []
        for start, end in windows(plan, until):
            end = min(end, _end_of_search(start, until))
            if plan.timing.constant_rate is not None:
                at, rates = np.array([start, end]), np.full(2, plan.timing.constant_rate)
                jumps = np.zeros(1, bool)
            else:
                at, rates, jumps = _sample_rate(plan, rate, start, end, self.faults)
            starts.append(at[:-1])
            widths.append(np.diff(at))
            before.append(rates[:-1])
            after.append(np.where(jumps, rates[:-1], rates[1:]))
        columns = (starts, widths, before, after)
        self._at, self._width, self._left, self._right = (
            np.concatenate(parts) if parts else np.zeros(0) for parts in columns
        )
        self._total = np.concatenate([[0.0], np.cumsum((self._left + self._right) / 2 * self._width)])

    def total(self, times: np.ndarray) -> np.ndarray:
        """Return the integral up to times (n,)."""
        if not len(self._at):
            return np.zeros(len(times))
        cell = np.clip(np.searchsorted(self._at, times, side="right") - 1, 0, len(self._at) - 1)
        x = np.clip(times - self._at[cell], 0, self._width[cell])
        slope = (self._right[cell] - self._left[cell]) / np.maximum(self._width[cell], 1e-300)
        return self._total[cell] + self._left[cell] * x + slope * x * x / 2

    def when(self, totals: np.ndarray) -> np.ndarray:
        """Return the last time at which the integral equals values (n,); infinity where it never reaches them."""
        if not len(self._at):
            return np.full(len(totals), np.inf)
        cell = np.searchsorted(self._total[1:], totals + 1e-9, side="right")
        never = cell >= len(self._at)
        cell = np.minimum(cell, len(self._at) - 1)
        need = np.maximum(totals - self._total[cell], 0)
        r0, slope = self._left[cell], (self._right[cell] - self._left[cell]) / np.maximum(self._width[cell], 1e-300)
        root = np.sqrt(np.maximum(r0 * r0 + 2 * slope * need, 0))
        t = np.where(need > 0, 2 * need / np.maximum(r0 + root, 1e-300), 0.0)
        return np.where(never, np.inf, self._at[cell] + np.clip(t, 0, self._width[cell]))


def _constant_rate_births(plan: EmitterPlan, rate: float, start: float, end: float) -> np.ndarray:
    if rate <= 0:
        return np.empty(0)
    total = rate * (end - start)
    _within_budget(total, plan)
    return start + np.arange(_births_below(total)) / rate


def _changing_rate_births(plan: EmitterPlan, rate: Prepared, start: float, end: float, faults: Faults) -> np.ndarray:
    """Return the births of a changing rate: sampled on a grid that is refined where the rate bends or jumps, piecewise
    linear, inverted exactly in each cell. A jump is located to a picosecond; until then the rate before it holds."""
    at, rates, jumps = _sample_rate(plan, rate, start, end, faults)
    widths = np.diff(at)
    left, right = rates[:-1], np.where(jumps, rates[:-1], rates[1:])
    total = np.concatenate([[0.0], np.cumsum((left + right) / 2 * widths)])
    # what a jump's place in time may be wrong by must not make or lose a birth
    unsure = np.concatenate([[0.0], np.cumsum(np.where(jumps, 4 * np.abs(rates[1:] - left) * widths, 0.0))])
    whole = np.rint(total)
    total = np.where(np.abs(total - whole) <= unsure + 1e-9 * np.maximum(1.0, total), whole, total)
    _within_budget(total[-1], plan)
    n = np.arange(_births_below(total[-1]), dtype=np.float64)
    cell = np.clip(np.searchsorted(total, n, side="right") - 1, 0, len(widths) - 1)
    need = n - total[cell]
    r0, slope = left[cell], (right[cell] - left[cell]) / np.where(widths[cell] > 0, widths[cell], 1)
    # solve r0 t + slope t^2 / 2 = need; this form of the root loses no digits when the slope is small
    root = np.sqrt(np.maximum(r0 * r0 + 2 * slope * need, 0))
    t = np.where(need > 0, 2 * need / np.maximum(r0 + root, 1e-300), 0.0)
    return at[cell] + np.clip(t, 0, widths[cell])


def _sample_rate(
    plan: EmitterPlan, rate: Prepared, start: float, end: float, faults: Faults
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return times, rates, and for each cell between them whether it is a jump."""

    def rates_at(times: np.ndarray) -> np.ndarray:
        rates = rate.run(plan.values, {"time": times}, len(times), faults)["rate"]
        return rates * plan.timing.per_second

    samples = math.ceil((end - start) / GRID) + 1
    at = np.minimum(start + np.arange(samples) * GRID, end)
    rates = rates_at(at)
    settled = np.zeros(samples - 1, bool)
    jumps = np.zeros(samples - 1, bool)
    for _ in range(REFINED):
        open_ones = np.flatnonzero(~settled)
        if not len(open_ones) or len(at) > MAX_RATE_SAMPLES:
            break
        a, b = at[open_ones], at[open_ones + 1]
        middle = (a + b) / 2
        apart = b - a > 1e-12 * np.maximum(1.0, np.abs(a))
        between = rates_at(middle)
        r0, r1 = rates[open_ones], rates[open_ones + 1]
        noise = 4e-7 * np.maximum(np.maximum(np.abs(r0), np.abs(r1)), np.abs(between))  # tables are float32
        bent = np.abs(between - (r0 + r1) / 2) > noise + 1e-8 / np.maximum(b - a, 1e-12)
        jumps[open_ones] = ~apart & (np.abs(r1 - r0) > noise)
        settled[open_ones] = ~(bent & apart)
        new = open_ones[bent & apart]
        at = np.insert(at, new + 1, middle[bent & apart])
        rates = np.insert(rates, new + 1, between[bent & apart])
        settled, jumps = (np.insert(flags, new + 1, False) for flags in (settled, jumps))
    return at, rates, jumps


def _births_below(total: float) -> int:
    """Return how many of n = 0, 1, 2, ... lie below the integral; an excess over a whole number within rounding counts
    as none."""
    return max(0, math.ceil(total - 1e-9 * max(1.0, total)))


def _within_budget(births: float, plan: EmitterPlan) -> None:
    if births > MAX_BIRTHS:
        raise BudgetError(
            f"This emitter would give birth to {births:,.0f} particles over the clip; the limit is {MAX_BIRTHS:,}.",
            where=f"{plan.place}.births.rate",
            remedy="Lower the rate or the bursts, or shorten the clip or the duration.",
        )
