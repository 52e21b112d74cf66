"""Nanoseconds per particle and step: plain NumPy and the engine, paired within one run."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from kagero.core.effect import read_effect
from kagero.core.engine import chosen, prepare_hot
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Packets, Playing, Wish
from kagero.core.workflows import measure as measure_rows
from kagero.core.workflows.stream import clip_packet

from .effects import mapped, reference
from .plain import PlainStep

RUNS = 5


def main() -> None:
    print(f"engine: {chosen().identity}")
    print(f"{'particles':>10} {'plain NumPy':>14} {'engine':>10} {'ratio':>7}   ns per particle and step, median of {RUNS}")
    for alive in (5_000, 100_000, 1_000_000):
        plain, engine = measure(alive)
        print(f"{alive:>10,} {plain:>14.0f} {engine:>10.0f} {engine / plain:>7.2f}")
    look()
    journey()


def journey() -> None:
    """Print where the time of an edit goes on the server, at 5,000 particles with 20 responses on the emitter."""
    document = mapped(5_000)
    store = Playing(read_effect(document)).store
    times = [_parts(document, 0.8 + run / 100, store) for run in range(RUNS)]
    print("an edit at 5,000 particles with 20 responses, on the server:")
    for name in times[0]:
        print(f"{name:>30} {statistics.median(t[name] for t in times):>8.1f} ms")


def _parts(document: dict[str, Any], lift: float, store: FrameStore) -> dict[str, float]:
    """Return the milliseconds of each part of an edit that sets the lift."""
    document["emitters"][0]["forces"][0]["strength"]["base"] = lift
    parts: dict[str, float] = {}

    def timed(name: str, work: Callable[[], Any]) -> Any:
        started = time.perf_counter()
        result = work()
        parts[name] = (time.perf_counter() - started) * 1e3
        return result

    effect = timed("read the document", lambda: read_effect(document))
    made = timed("compile", lambda: Playing(effect, store))
    frame = timed("simulate to frame 60", lambda: made.frames(60))[0]
    timed("look", lambda: made.show(60))
    timed("measure", lambda: measure_rows(effect.emitters[0], made.plan.emitters[0], frame.population, 2.4))
    timed("pack the frame, all included", lambda: Packets(made, Wish()).frame(60, measured=True))
    timed("what the clip tells", lambda: clip_packet(made))
    return parts


def measure(alive: int) -> tuple[float, float]:
    """Return both medians, after checking that both do the same."""
    made = Playing(read_effect(reference(alive, frames=12)))
    plan = made.plan.emitters[0]
    state = made.frames(10)[0].population
    inputs = {**state.inputs(), "dt": np.full(alive, 0.04, np.float32), "time": 0.44}
    step = prepare_hot(plan.step, chosen())
    plain = PlainStep(plan.values.seeds[next(op.attrs[0] for op in plan.step.operations if op.name == "curl_noise")])
    ours, theirs = step.run(plan.values, inputs, alive), plain(inputs, 0.44, 0.04)
    for name, values in theirs.items():
        np.testing.assert_allclose(ours[name], values, atol=2e-4)
    times: dict[str, list[float]] = {"plain": [], "engine": []}
    repeat = max(1, 100_000 // alive)
    for _ in range(RUNS):
        for name, run in (("plain", lambda: plain(inputs, 0.44, 0.04)), ("engine", lambda: step.run(plan.values, inputs, alive))):
            started = time.perf_counter()
            for _ in range(repeat):
                run()
            times[name].append((time.perf_counter() - started) / repeat / alive * 1e9)
    return statistics.median(times["plain"]), statistics.median(times["engine"])


def look() -> None:
    """Print what a whole clip and a look edit cost at 5,000 particles and 120 frames."""
    document = reference(5_000)
    clip, shown = [], []
    for _ in range(RUNS):
        made = Playing(read_effect(document))
        started = time.perf_counter()
        made.frames(120)
        clip.append(time.perf_counter() - started)
        started = time.perf_counter()
        Playing(read_effect(document), made.store).show(60)
        shown.append(time.perf_counter() - started)
    print(f"5,000 x 120 frames: simulated in {statistics.median(clip) * 1e3:.0f} ms; a look edit to one frame {statistics.median(shown) * 1e3:.1f} ms")


if __name__ == "__main__":
    main()
