"""Nanoseconds per particle and step: plain NumPy and the engine, paired within one run."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any

import numpy as np

from kagero.core.document import read_effect
from kagero.core.engine import current_engine, prepare_for_engine, use_engine
from kagero.core.engine.native import machine
from kagero.core.simulation import FrameStore, step_inputs
from kagero.core.workflows import Packets, Playing, PlayRequest
from kagero.core.workflows import measure as measure_rows
from kagero.core.workflows.stream import clip_packet

from .bounds import within
from .effects import mapped, reference
from .handwritten import HandwrittenStep
from .plain import PlainStep
from .profile import flowing

RUNS, PAIRS = 5, 9


def main() -> None:
    print(
        f"engine: {current_engine().identity}, {current_engine().threads} threads; medians of {RUNS}, paired; ns per "
        "particle and step"
    )
    print(
        f"{'particles':>10} {'plain NumPy':>12} {'C':>8} {'one thread':>11} {'two':>8} {'to plain':>9} {'to C':>7} "
        f"{'threads':>8}"
    )
    each: dict[int, float] = {}
    for alive in (2_000, 10_000, 100_000, 1_000_000):
        plain, c, one, two = measure(alive)
        each[alive] = one
        late = (
            within(f"a step of {alive:,}, to the C loop", one / c, most=1.2, unit="times") if alive >= 100_000 else ""
        )
        print(
            f"{alive:>10,} {plain:>12.0f} {c:>8.1f} {one:>11.1f} {two:>8.1f} {one / plain:>9.3f} {one / c:>7.2f} "
            f"{one / two:>7.2f}x{late}"
        )
    flat = each[1_000_000] / each[10_000]
    print(
        "a particle of a million to one of ten thousand: "
        f"{flat:.2f}{within('a step of 1,000,000 to one of 10,000, a particle', flat, most=1.2, unit='times')}"
    )
    look()
    structure()
    formulas()
    journey()


def structure() -> None:
    """Print what a structural edit costs over a value edit, from the document to the first frame."""
    with_one, without = mapped(2_000), mapped(2_000)
    lift = with_one["emitters"][0]["forces"][0]["strength"]
    times: dict[str, list[float]] = {"value": [], "structure": []}
    store = Playing(read_effect(without)).store
    Playing(read_effect(without), store).show(1)
    for run in range(RUNS):
        lift["responses"] = lift["responses"][:1] + [
            {**lift["responses"][0], "uid": f"new-{run}", "muted": False} for _ in range(1)
        ]
        without["emitters"][0]["forces"][0]["strength"]["base"] = 0.8 + (run + 1) / 50
        for name, document in (("value", without), ("structure", with_one)):
            started = time.perf_counter()
            Playing(read_effect(document), store).show(1)
            times[name].append((time.perf_counter() - started) * 1e3)
    value, structural = (statistics.median(times[name]) for name in ("value", "structure"))
    print(
        f"to the first frame: a value edit {value:.0f} ms, a structural edit {structural:.0f} ms; "
        f"{structural - value:.0f} ms "
        f"more{within('a structural edit, more than a value edit', structural - value, most=60)}"
    )


FORMULA = (
    "wave = sin(position.x * {number} + clip_time * 3)\nlift = smoothstep(0, 0.4, life) * (1 - life) ** 1.5\n{more} * "
    "dials.height * (wave + lift) + noise(position, 0.4)"
)


def formulas() -> None:
    """Print what edits of a formula in the simulated part cost over a value edit, and how many plans each compiled."""
    store = Playing(read_effect(_written(1.0, 4.0, "0.5", 0.5))).store
    Playing(read_effect(_written(1.0, 4.0, "0.5", 0.5)), store).show(1)
    times: dict[str, list[float]] = {
        "a value": [],
        "turning a dial": [],
        "another number in the formula": [],
        "another formula": [],
    }
    compiled = dict.fromkeys(times, 0)
    for run in range(1, RUNS + 1):
        for name, document in (
            ("a value", _written(1.0, 4.0, "0.5", 0.5 + run / 50)),
            ("turning a dial", _written(1.0 + run / 50, 4.0, "0.5", 0.5)),
            ("another number in the formula", _written(1.0, 4.0 + run / 7, "0.5", 0.5)),
            ("another formula", _written(1.0, 4.0, " + ".join(["life"] * (run + 1)), 0.5)),
        ):
            before, started = machine.compiled_count, time.perf_counter()
            Playing(read_effect(document), store).show(1)
            times[name].append((time.perf_counter() - started) * 1e3)
            compiled[name] += machine.compiled_count - before
    plain = statistics.median(times["a value"])
    for name, each in times.items():
        took = statistics.median(each)
        late = within(f"an edit of {name}, more than a value edit", took - plain, most=60) if name != "a value" else ""
        late += (
            within(f"plans compiled by {name}", compiled[name], most=0, unit="")
            if name in ("a value", "turning a dial")
            else ""
        )
        print(
            f"to the first frame: {name}: {took:.0f} ms, {took - plain:+.0f} ms; plans compiled in {RUNS} edits: "
            f"{compiled[name]}{late}"
        )


def _written(dial: float, number: float, more: str, lift: float) -> dict[str, Any]:
    document = reference(2_000)
    document["dials"] = [{"uid": "h", "name": "Height", "value": dial, "low": 0, "high": 5, "default": 1}]
    forces = document["emitters"][0]["forces"]
    text = FORMULA.format(number=number, more=f"({more})")
    forces[0]["strength"]["base"] = lift
    forces.append(
        {
            "kind": "buoyancy",
            "uid": "written",
            "strength": {"base": {"source": {"kind": "formula", "uid": "w", "text": text}, "read": "live"}},
        }
    )
    return document


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
    clip = timed("compile", lambda: Playing(effect, store))
    frame = timed("simulate to frame 60", lambda: clip.frames(60))[0]
    timed("look", lambda: clip.show(60))
    timed("measure", lambda: measure_rows(effect.emitters[0], clip.plan.emitters[0], frame.population, 2.4))
    timed("pack the frame, all included", lambda: Packets(clip, PlayRequest()).frame(60, measured=True))
    timed("what the clip tells", lambda: clip_packet(clip))
    return parts


def measure(alive: int) -> tuple[float, float, float, float]:
    """Return the medians of plain NumPy, C, and the engine on one and two threads, after checking that all do the
    same."""
    clip = Playing(read_effect(reference(alive, frames=12)))
    plan = clip.plan.emitters[0]
    state = clip.frames(10)[0].population
    inputs = {**state.inputs(), "dt": 0.04, "time": 0.44, "middle": 0.42}
    one, two = (prepare_for_engine(plan.step, replace(current_engine(), threads=threads)) for threads in (1, 2))
    plain = PlainStep(plan.values.seeds[next(op.attrs[0] for op in plan.step.operations if op.name == "curl_noise")])
    c = HandwrittenStep(plan)
    ours = one.run(plan.values, inputs, alive)
    full = {**inputs, "dt": np.full(alive, 0.04, np.float32)}
    for theirs in (plain(full, 0.44, 0.04), c(inputs, 0.44, 0.04)):
        for name, values in theirs.items():
            np.testing.assert_allclose(ours[name], values, atol=2e-4)
    for compiled in machine._plans.values():
        if not compiled.thorough:
            compiled.optimise()
    ways: dict[str, Callable[[], Any]] = {
        "plain": lambda: plain(full, 0.44, 0.04),
        "c": lambda: c(inputs, 0.44, 0.04),
        "one": lambda: one.run(plan.values, inputs, alive),
        "two": lambda: two.run(plan.values, inputs, alive),
    }
    times: dict[str, list[float]] = {name: [] for name in ways}
    repeat = max(1, 200_000 // alive)
    for _ in range(RUNS):
        for name, run in ways.items():
            turns = max(1, repeat // 10) if name == "plain" else repeat
            started = time.perf_counter()
            for _ in range(turns):
                run()
            times[name].append((time.perf_counter() - started) / turns / alive * 1e9)
    return tuple(statistics.median(times[name]) for name in ways)  # type: ignore[return-value]


def look() -> None:
    """Print what a whole clip costs at 5,000 particles and 120 frames, beside the C loop's steps alone, and a look
    edit."""
    document = reference(5_000)
    clip, shown, c = [], [], []
    state = Playing(read_effect(document)).frames(60)[0].population
    handwritten = HandwrittenStep(Playing(read_effect(document)).plan.emitters[0])
    for _ in range(RUNS):
        playing_clip = Playing(read_effect(document))
        started = time.perf_counter()
        playing_clip.frames(120)
        clip.append(time.perf_counter() - started)
        started = time.perf_counter()
        for frame in range(120):
            handwritten(state.inputs(), frame / 25, 0.04)
        c.append(time.perf_counter() - started)
        started = time.perf_counter()
        Playing(read_effect(document), playing_clip.store).show(60)
        shown.append(time.perf_counter() - started)
    print(
        "whole clips of births and endings, one thread to two (ms; medians of the pairs' ratios, quartiles); beside "
        "it what this machine"
    )
    print("makes of two threads that do nothing but step, each its half:")
    for alive, frames in ((50_000, 48), (100_000, 48), (400_000, 24)):
        spent: dict[int, list[float]] = {1: [], 2: []}
        able = []
        for _ in range(PAIRS):
            for threads in spent:
                with use_engine(replace(current_engine(), threads=threads)):
                    playing_clip = Playing(read_effect(flowing(alive, frames)), FrameStore(3 << 30))
                    playing_clip.frames(2)
                    started = time.perf_counter()
                    playing_clip.frames(frames)
                    spent[threads].append((time.perf_counter() - started) * 1e3)
            able.append(halves(playing_clip))
        ratios = [one / two for one, two in zip(*spent.values(), strict=True)]
        low, _, high = statistics.quantiles(ratios)
        one, two = (statistics.median(times) for times in spent.values())
        print(
            f"{alive:>10,} x {frames}: {one:.0f} to {two:.0f}, {statistics.median(ratios):.2f} x ({low:.2f} to "
            f"{high:.2f}); machine {statistics.median(able):.2f} x"
            f"{within(f'{alive:,} x {frames}, two threads to one', statistics.median(ratios), least=1.7, unit='times')}"
        )
    ours, loop, edit = (statistics.median(times) * 1e3 for times in (clip, c, shown))
    print(
        f"5,000 x 120 frames: simulated and stored in {ours:.0f} ms, {ours / loop:.2f} x the C loop ({loop:.0f} ms); "
        f"a look edit to one frame {edit:.1f} ms"
        f"{within('5,000 x 120 frames', ours, most=1000)}{within('5,000 x 120 frames, to the C loop', ours / loop, most=2, unit='times')}"
        f"{within('a look edit of 5,000 to one frame, on the server', edit, most=15)}"
    )


def halves(result: Playing) -> float:
    """Return how many times as fast two threads step the particles of a frame as one does, each its half, over and
    over."""
    plan, state = result.plan.emitters[0], result.frames(2)[0].population
    half = len(state) // 2 // 16 * 16
    program = prepare_for_engine(plan.step, replace(current_engine(), threads=1))
    span = program.bound(plan.values, step_inputs(state, np.float32(0.04), 0.44), len(state))
    rooms = [np.empty((len(plan.step.outputs), half + 64), np.float32) for _ in range(2)]
    turns = max(4, 2_000_000 // half)

    def work(k: int) -> None:
        for _ in range(turns):
            span(k * half, (k + 1) * half, rooms[k], None)

    with ThreadPoolExecutor(2) as pool:
        started = time.perf_counter()
        work(0)
        work(1)
        between = time.perf_counter()
        list(pool.map(work, range(2)))
        return (between - started) / (time.perf_counter() - between)


if __name__ == "__main__":
    main()
