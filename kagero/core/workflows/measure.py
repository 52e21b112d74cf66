"""Measurements of rows and responses: spreads, histograms of sources and results, and courses over life."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..document import Emitter
from ..engine import prepare_reference
from ..plan import ByClipPlan, EmitterPlan
from ..rows.responses import NumberRow, row_of, sources_of
from ..shaping import Shaper
from ..simulation import Population, frame_inputs
from ..work_limits import spend
from .ineffective import does_nothing
from .push_report import push_on_particle, strengths

SOURCE_BINS, RESULT_BINS, LIFE_BINS, DRAW_BINS = 48, 20, 41, 24
MOST, MOST_OVER_CLIP = 20_000, 8_000  # particles looked at, at a frame and over the clip; more are thinned evenly
SWATCHES = 16
GOLDEN = 0.6180339887  # its multiples are spread evenly over 0 to 1 (Weyl)
KEPT = "births.keep"  # the row that decides whether a birth comes to be


class Readings:
    """A program's results by name, (columns, n) float32, finite; with each column's smallest, mean and largest value to
    six digits."""

    def __init__(self, found: dict[str, np.ndarray]):
        self._row = {name: row for row, name in enumerate(found)}
        self.columns = (
            clip_for_display(np.array(list(found.values()), np.float32)) if found else np.zeros((0, 0), np.float32)
        )
        self._spreads: list[list[float]] | None = None

    def __getitem__(self, name: str) -> np.ndarray:
        return self.columns[self._row[name]]

    def get(self, name: str) -> np.ndarray | None:
        """Return a column, or None."""
        return self[name] if name in self._row else None

    def first(self) -> dict[str, float]:
        """Return the first particle's exact values."""
        return {name: shortest_float32(self.columns[row, 0]) for name, row in self._row.items()}

    def spread(self, name: str) -> list[float]:
        """Return a column's smallest, mean and largest value."""
        if self._spreads is None:
            of = self.columns
            ends = np.array([of.min(axis=1), of.mean(axis=1, dtype=np.float64), of.max(axis=1)])
            self._spreads = [_rounded_json(each) for each in ends.T]
        return self._spreads[self._row[name]]


def shuffled(keys: np.ndarray) -> np.ndarray:
    """Return whole numbers from 0 to 2^32 that are not in order of birth (Knuth's multiplicative hash)."""
    return keys * np.uint64(2654435761) & np.uint64(0xFFFFFFFF)


def measure(
    emitter: Emitter,
    plan: EmitterPlan,
    population: Population,
    seconds: float | np.ndarray,
    shown: Population | None = None,
) -> dict[str, Any]:
    """Return the spread of every row and the distribution of every response's source and result.

    `rows`: by address, [smallest, mean, largest] of each component (colour rows also swatches, youngest first).
    `responses`: by uid, the source's low and high, shares below and above the input range, counts in SOURCE_BINS over
    that range, and results in RESULT_BINS over `reach`. `draws`: by uid, low, high and counts in DRAW_BINS. `formulas`:
    by uid, the spread of each named step, with the result under "". `tests`: values that cues compare, by uid and row
    (`_comparison_spread`). `pushes`: by uid, mean magnitude, m/s². Everything is null or empty without particles.

    shown: the same particles after shaping, at which looks are evaluated.
    """
    pushes = strengths(plan, population, seconds)
    values, population = _probe(plan, population, seconds, shown)
    return {**_summary(emitter, plan, values, population), "pushes": pushes}


def measure_one(
    plan: EmitterPlan, population: Population, index: int, seconds: float, shown: Population | None = None
) -> dict[str, Any]:
    """Return one particle's values of each row, and each response's source and result."""
    one = population.where(slice(index, index + 1))
    values, _ = _probe(plan, one, seconds, None if shown is None else shown.where(slice(index, index + 1)))
    plain = values.first()
    return {
        "key": str(one.key[0]),
        "rows": {address: [plain[name] for name in names] for address, names in plan.probe.rows.items()},
        "sources": {uid: plain[f"source.{uid}"] for uid in plan.probe.responses},
        "results": {uid: plain[f"result.{uid}"] for uid in plan.probe.responses if f"result.{uid}" in plain},
        "formulas": {
            uid: {name: [plain[n] for n in names] for name, names in parts.items()}
            for uid, parts in plan.probe.formulas.items()
        },
        "pushes": push_on_particle(plan, one, seconds),
    }


def measure_prop(prop: Any, plan: ByClipPlan, seconds: float) -> dict[str, Any]:
    """Return the same as `measure` for the rows of a prop at a time, where each has one value."""
    one = Population.from_columns(
        np.zeros(1, np.uint64), np.zeros(1), np.zeros(1), np.ones(1), np.zeros((3, 1)), np.zeros((3, 1)), {}
    )
    found = prepare_reference(plan.probe.program).run(plan.values, {"time": np.full(1, seconds, np.float32)}, 1)
    return _summary(prop, plan, Readings(found), one)


def gather_frames(frames: list[tuple[float, Population]]) -> tuple[Population, np.ndarray] | None:
    """Return the particles of many frames (seconds, population) in one population, thinned to MOST_OVER_CLIP, and each
    particle's clip time."""
    total = sum(len(population) for _, population in frames)
    every = max(1, -(-total // MOST_OVER_CLIP))
    parts = [
        (seconds, population.where(slice(i % every, None, every))) for i, (seconds, population) in enumerate(frames)
    ]
    parts = [(seconds, population) for seconds, population in parts if len(population)]
    if not parts:
        return None
    joined = Population.joined([population for _, population in parts])
    return joined, np.concatenate([np.full(len(p), s) for s, p in parts])


def life_profile(
    emitter: Emitter,
    plan: EmitterPlan,
    frames: list[tuple[float, Population]],
    candidates: Population | None = None,
    shaper: Shaper | None = None,
) -> dict[str, Any]:
    """Return `measure` over many frames (seconds, population), and the course over life of each live row by address.

    candidates: births including those that a condition prevents; the condition is measured on them, since it is the
    same for all that live. shaper: the emitter's, where looks are evaluated at shaped positions. A course has smallest,
    mean and largest value in LIFE_BINS bins of life from 0 to 1 for each component; empty bins take their neighbours'
    values. A response without effect has its reason in `quiet`.
    """
    gathered = gather_frames(frames)
    if gathered is None:
        return {
            **_summary(emitter, plan, Readings({}), Population.empty(())),
            "pushes": {},
            "lives": {},
            "lifespan": None,
        }
    shown = shaper.shaped(*gathered) if shaper is not None else None
    values, joined = _probe(plan, *gathered, shown)
    profile = _summary(emitter, plan, values, joined, judge=does_nothing)
    if candidates is not None and len(candidates):
        decided = _summary(emitter, plan, *_probe(plan, candidates, candidates.birth_time), judge=does_nothing)[
            "responses"
        ]
        deciding = {
            response.uid
            for placed in plan.rows.values()
            if KEPT in (placed.address, placed.host)
            for response in placed.row.responses
        }
        profile["responses"] |= {uid: entry for uid, entry in decided.items() if uid in deciding}
    life = np.clip(joined.age / joined.lifespan, 0, 1)
    bins = np.minimum((life * LIFE_BINS).astype(int), LIFE_BINS - 1)
    order = np.argsort(bins, kind="stable")
    seen, starts = np.unique(bins[order], return_index=True)
    lives = {}
    for placed in plan.rows.values():
        if placed.depth == 0 and placed.spec.stage == "live":
            lives[placed.address] = [
                _life_course(values[name][order], seen, starts) for name in plan.probe.rows[placed.address]
            ]
    whole, when = gathered
    return {
        **profile,
        "pushes": strengths(plan, whole, when),
        "lives": lives,
        "lifespan": _spread(clip_for_display(joined.lifespan)),
    }


def _probe(
    plan: EmitterPlan, population: Population, seconds: float | np.ndarray, shown: Population | None = None
) -> tuple[Readings, Population]:
    """Return the probe's results for at most MOST particles, and these particles. shown: the same particles at their
    shaped positions, for looks."""
    if len(population) > MOST:
        every = slice(None, None, -(-len(population) // MOST))
        population, shown = (
            population.where(every),
            None if shown is None or shown is population else shown.where(every),
        )
        seconds = seconds[every] if isinstance(seconds, np.ndarray) else seconds
    spend(len(population) * len(plan.probe.program.operations))
    places = (np.arange(len(population)) * GOLDEN % 1).astype(
        np.float32
    )  # each is asked at a place of its line: together all along it
    program = prepare_reference(plan.probe.program)
    found = program.run(plan.values, {**frame_inputs(population, seconds), "along": places}, len(population))
    if shown is not None and shown is not population:
        seen = program.run(plan.values, {**frame_inputs(shown, seconds), "along": places}, len(population))
        found = {name: seen[name] if name in _looks_of(plan) else values for name, values in found.items()}
    return Readings(found), population


def _looks_of(plan: EmitterPlan) -> frozenset[str]:
    """Return the probe's results about looks, which are evaluated at shown positions."""
    looks: set[str] = set()
    for placed in plan.rows.values():
        if placed.spec.band == "look":
            looks |= set(plan.probe.rows.get(placed.address, ()))
            looks |= {f"{what}.{response.uid}" for response in placed.row.responses for what in ("source", "result")}
            for source, _, _ in sources_of(placed.row):
                looks |= {
                    name for names in plan.probe.formulas.get(getattr(source, "uid", ""), {}).values() for name in names
                }
    return frozenset(looks)


def _summary(
    emitter: Any,
    plan: EmitterPlan | ByClipPlan,
    values: Readings,
    population: Population,
    judge: Callable[[Any, dict[str, Any]], str] | None = None,
) -> dict[str, Any]:
    if not len(population):
        nothing = {address: {"spread": None} for address in plan.probe.rows}
        return {"count": 0, "tests": {}, "rows": nothing, "responses": {}, "draws": {}, "own": {}, "formulas": {}}
    rows: dict[str, Any] = {
        address: {"spread": [values.spread(name) for name in names]} for address, names in plan.probe.rows.items()
    }
    youngest = np.argsort(population.age / np.maximum(population.lifespan, 1e-9), kind="stable")
    picks = youngest[np.linspace(0, len(youngest) - 1, min(SWATCHES, len(youngest))).astype(int)]
    responses: dict[str, Any] = {}
    for placed in plan.rows.values():
        if placed.spec.kind == "colour":
            swatches = np.stack([values[name][picks] for name in plan.probe.rows[placed.address]], axis=1)
            rows[placed.address]["swatches"] = [_rounded_json(swatch) for swatch in swatches]
        for response in placed.row.responses:
            if response.uid not in plan.probe.responses:
                continue
            entry = _distribution(values[f"source.{response.uid}"], *input_range(response))
            result = values.get(f"result.{response.uid}")
            if result is not None:
                entry["result"] = [shortest_float32(result.min()), shortest_float32(result.max())]
                entry["reach"] = list(_result_range(response, entry["result"]))
                entry["results"] = _results(result, *entry["reach"])
            if judge is not None:
                entry["quiet"] = judge(response, entry)
            responses[response.uid] = entry
    draws = {uid: _spread_out(values[f"draw.{uid}"]) for uid in plan.probe.draws}
    own = {uid: [values.spread(name) for name in names] for uid, names in plan.probe.own.items()}
    formulas = {
        uid: {name: [values.spread(n) for n in names] for name, names in parts.items()}
        for uid, parts in plan.probe.formulas.items()
    }
    tests = {}
    for cue in [] if not hasattr(emitter, "cues") else emitter.cues:
        for of, value, side in cue.compared():
            looked, against = (plan.probe.rows.get(f"cues.{cue.uid}.{name}") for name in (of, value))
            if looked and against:
                tests[f"{cue.uid}.{of}"] = _comparison_spread(values[looked[0]], values[against[0]], side)
    parts = {"tests": tests, "rows": rows, "responses": responses, "draws": draws, "own": own, "formulas": formulas}
    return {"count": len(population), **parts}


def input_range(response: Any) -> tuple[float, float]:
    """Return the range of source values over which a response is drawn: its input range, or 0 to twice its
    reference."""
    if response.kind != "ratio":
        return response.input
    reference = row_of(response.reference).base
    reach = 2 * reference if isinstance(reference, float) and reference else 2.0
    return (0.0, reach) if reach > 0 else (reach, 0.0)


def _result_range(response: Any, result: list[float]) -> tuple[float, float]:
    if response.kind == "curve" and not any(isinstance(end, NumberRow) for end in response.output):
        return response.output
    return (result[0], result[1])


def clip_for_display(values: np.ndarray) -> np.ndarray:
    """Return numbers fit for counting and display: 0 for those that are not finite, clamped to ±1e30."""
    bounded = np.clip(values, np.float32(-1e30), np.float32(1e30))
    bounded[np.isnan(bounded)] = 0
    return bounded


def _spread_out(values: np.ndarray) -> dict[str, Any]:
    low, high = shortest_float32(values.min()), shortest_float32(values.max())
    return {
        "low": low,
        "high": high,
        "bins": np.histogram(values, DRAW_BINS, (low, high) if high > low else (low - 0.5, low + 0.5))[0].tolist(),
    }


def _comparison_spread(looked: np.ndarray, against: np.ndarray, side: str) -> dict[str, Any]:
    """Return the distribution of a value that a cue compares, in SOURCE_BINS from smallest to largest, and the number
    of particles for which the comparison holds."""
    low, high = shortest_float32(looked.min()), shortest_float32(looked.max())
    span = (low, high) if high > low else (low - 0.5, low + 0.5)
    passes = looked >= against if side == "above" else looked <= against
    bins = np.histogram(looked.astype(np.float64), SOURCE_BINS, span)[0].tolist()
    return {"low": span[0], "high": span[1], "bins": bins, "side": side, "passes": float(np.mean(passes))}


def _distribution(source: np.ndarray, low: float, high: float) -> dict[str, Any]:
    left, right = min(low, high), max(low, high)
    below, above = float(np.mean(source < np.float32(left))), float(np.mean(source > np.float32(right)))
    span = right - left
    if span > 0:
        share = (source.astype(np.float64) - left) / span
        inside = share[(share >= 0) & (share <= 1)]
        counts = np.bincount(np.minimum((inside * SOURCE_BINS).astype(int), SOURCE_BINS - 1), minlength=SOURCE_BINS)
        if low > high:
            counts, below, above = counts[::-1], above, below
    else:
        counts = np.zeros(SOURCE_BINS, int)
    mean = shortest_float32(np.float32(source.mean(dtype=np.float64)))
    return {
        "low": shortest_float32(source.min()),
        "mean": mean,
        "high": shortest_float32(source.max()),
        "below": below,
        "above": above,
        "bins": counts.tolist(),
    }


def _results(result: np.ndarray, bottom: float, top: float) -> list[int]:
    span = float(top) - float(bottom)
    if span == 0:
        return [0] * RESULT_BINS
    share = np.clip((result.astype(np.float64) - bottom) / span, 0, 1)
    return np.bincount(np.minimum((share * RESULT_BINS).astype(int), RESULT_BINS - 1), minlength=RESULT_BINS).tolist()


def _spread(values: np.ndarray) -> list[float]:
    return _rounded_json(np.array([values.min(), values.mean(dtype=np.float64), values.max()]))


def _life_course(values: np.ndarray, seen: np.ndarray, starts: np.ndarray) -> dict[str, list[float]]:
    """Return a course of values in order of life; bins begin at `starts`."""
    mean = np.add.reduceat(values.astype(np.float64), starts) / np.diff([*starts, len(values)])
    low, high = np.minimum.reduceat(values, starts), np.maximum.reduceat(values, starts)
    at = np.arange(LIFE_BINS)
    return {
        name: _rounded_json(np.interp(at, seen, column))
        for name, column in (("low", low), ("mean", mean), ("high", high))
    }


def shortest_float32(value: np.float32) -> float:
    """Return the shortest decimal number that reads back as the same float32, so that a range set to it excludes
    nobody."""
    return float(str(value)) if abs(value) <= 1e30 else float(str(clip_for_display(np.atleast_1d(value))[0]))


def _rounded_json(values: np.ndarray) -> list[float]:
    """Return finite numbers for JSON, to six digits."""
    return [float(f"{value:.6g}") for value in values.tolist()]
