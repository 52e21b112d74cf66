"""Where a whole clip's time goes on one thread: births, steps, endings and compaction, and what is around them; what
two threads make of it; memory."""

from __future__ import annotations

import resource
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any
from unittest.mock import patch

from demo.parts import response, row
from kagero.core.document import read_effect
from kagero.core.engine import current_engine, use_engine
from kagero.core.engine.native.run import NativePrepared
from kagero.core.simulation import EmitterRun, FrameStore, step
from kagero.core.workflows import Playing

from .bounds import within
from .effects import reference


def flowing(alive: int, frames: int) -> dict[str, Any]:
    """Return the reference effect with births and endings at every frame, about `alive` living from the first on."""
    result = reference(alive, frames)
    emitter = result["emitters"][0]
    emitter["births"]["rate"] = row(alive / 2)
    emitter["births"]["lifespan"] = row(
        2.0, response("vary", "draw:d", [(0, 0), (1, 1)], output=(0.5, 1.5), read="once", shape="linear")
    )
    return result


def main() -> None:
    print(
        f"{'one thread':>24} {'in all':>9} {'births':>8} {'steps':>8} {'endings and compaction':>23} {'rest':>7}   "
        "ms, and shares"
    )
    for label, alive, frames in (("5,000 x 120", 5_000, 120), ("1,000,000 x 100", 1_000_000, 100)):
        profile(label, flowing(alive, frames), frames)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"peak of the process after the million-particle clip: {peak:,.0f} MiB")


def profile(label: str, document: dict[str, Any], frames: int) -> None:
    times = {"births": 0.0, "steps": 0.0, "endings": 0.0}

    def timed(name: str, work: Callable[..., Any]) -> Callable[..., Any]:
        def call(*args: Any, **more: Any) -> Any:
            started = time.perf_counter()
            try:
                return work(*args, **more)
            finally:
                times[name] += time.perf_counter() - started

        return call

    def play(threads: int) -> tuple[float, Any]:
        with use_engine(replace(current_engine(), threads=threads)):
            run = Playing(read_effect(document), FrameStore(1)).runs[0]
            frame = run.first()
            times.update(dict.fromkeys(times, 0.0))
            started = time.perf_counter()
            for _ in range(frames):
                frame = run.next(frame)
            return time.perf_counter() - started, frame

    bound = NativePrepared.bound
    play(1)  # compiled, and its better code asked for
    with (
        patch.object(EmitterRun, "born", timed("births", EmitterRun.born)),
        patch.object(step, "copy_survivors", timed("endings", step.copy_survivors)),
        patch.object(step, "ages", timed("endings", step.ages)),
        patch.object(step.ARRAY_POOL, "array", timed("endings", step.ARRAY_POOL.array)),
        patch.object(NativePrepared, "bound", timed("steps", lambda *given: timed("steps", bound(*given)))),
    ):
        whole, frame = play(1)
    parts = [*times.values(), whole - sum(times.values())]
    words = [f"{part * 1e3:,.0f} ({part / whole:.0%})" for part in parts]
    print(f"{label:>24} {whole * 1e3:>9,.0f} {words[0]:>12} {words[1]:>14} {words[2]:>18} {words[3]:>12}")
    p = frame.population
    print(f"{'':>24} on two threads {play(2)[0] * 1e3:,.0f} ms")
    print(
        f"{'':>24} {len(p):,} alive at the end, {p.nbytes / len(p):.0f} bytes of state "
        f"each{within(f'{label}, state of a particle', p.nbytes / len(p), most=160, unit='bytes')}"
    )


if __name__ == "__main__":
    main()
