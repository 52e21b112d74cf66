"""Shaping: how long stored particles take to be moved, kind by kind, and how soon an edit of a number is answered.

Every row is the median of RUNS taken in turn, with the lowest and highest. The yardstick is the same twist of the same
particles by NumPy, places alone; a figure that is told of a shaping is of places and velocities together. What is moved
is compared with that NumPy twist: a share that is wrong by a hundredth ends the bench.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from kagero.core.document import read_effect
from kagero.core.parts.shapings import SHAPINGS
from kagero.core.simulation import FrameStore, Population
from kagero.core.workflows import Playing, PlayRequest, play_packets

from .bounds import within
from .looks import scene

RUNS = 9
TURN = 2.0
F32 = np.float32


def row(base: Any) -> dict[str, Any]:
    return {"base": base, "responses": []}


def shaping(kind: str, **more: Any) -> dict[str, Any]:
    fields = {**SHAPINGS.kinds[kind].template(), "uid": kind.replace("_", "-"), "muted": False, **more}
    boxed = {"middle": row([0.0, 1.0, 0.0]), "size": row([2.0, 2.0, 2.0])} if "middle" in fields else {}
    offsets = {"offsets": [(0.1, 0.0, 0.05)] * 8} if kind == "lattice" else {}
    return {**fields, **boxed, **offsets, **{"by_mask": {"mask": "veil"}, "path": {"prop": "line"}}.get(kind, {})}


PROPS = [
    {
        "kind": "mask",
        "shape": "sphere",
        "uid": "veil",
        "name": "veil",
        "position": row([0.0, 1.0, 0.0]),
        "radius": row(0.5),
        "falloff": row(0.5),
    },
    {"kind": "path", "uid": "line", "name": "line", "points": [[1.0, 0.0, 0.0], [1.0, 1.0, 2.0], [0.0, 1.0, 3.0]]},
]
THREE = [shaping("twist", amount=row(TURN)), shaping("bend"), shaping("taper")]
CASES: dict[str, list[dict[str, Any]]] = {kind: [shaping(kind)] for kind in SHAPINGS.kinds} | {
    "twist, bend, taper": THREE
}


def playing(shapings: list[dict[str, Any]], store: FrameStore | None = None, **first: Any) -> Playing:
    body = scene(5_000, 8, {})
    body["emitters"][0] |= {"shaping": [{**each, **first} if i == 0 else each for i, each in enumerate(shapings)]}
    return Playing(read_effect({**body, "props": PROPS}), store)


def crowd(result: Playing, count: int) -> Population:
    rng = np.random.default_rng(1)
    carried = {name: np.zeros(count) for name in result.plan.emitters[0].carried}
    place, direction = rng.uniform(-1, 1, (3, count)) + np.array([[0], [1], [0]]), rng.normal(0, 1, (3, count))
    return Population.from_columns(
        np.arange(count, dtype=np.uint64),
        np.zeros(count),
        np.full(count, 0.4),
        np.ones(count),
        place,
        direction,
        carried,
    )


def by_numpy(values: Population) -> np.ndarray:
    x, y, z = values.position
    angle = F32(TURN) * np.clip((y - F32(1)) / F32(2) + F32(0.5), F32(0), F32(1))
    sine, cosine = np.sin(angle), np.cos(angle)
    return np.stack([z * sine + x * cosine, y, z * cosine - x * sine])


def print_times(name: str, took: list[float], count: int, yard: float) -> None:
    each = [seconds / count * 1e9 for seconds in took]
    most = {"twist, bend, taper": 75.0, "a twist by NumPy": None}.get(name, 25.0) if count >= 100_000 else None
    late = (
        within(f"shaping {count:,}: {name}, a particle", statistics.median(each), most=most, unit="ns") if most else ""
    )
    print(
        f"{name:>22} {count:8,} {statistics.median(each):9.0f} ({min(each):.0f} to {max(each):.0f}) "
        f"{statistics.median(took) / yard:12.2f}{late}"
    )


def main() -> None:
    print(f"{'':>22} {'':>8} {'ns a particle':>22} {'times NumPy':>12}")
    for count in (5_000, 100_000):
        work: dict[str, Callable[[], Any]] = {}
        for name, shapings in CASES.items():
            clip = playing(shapings)
            particles, shaper = crowd(clip, count), clip.shaped[0].shaper
            work[name] = lambda shaper=shaper, collected=particles: shaper.shaped(collected, 0.4)
        particles = crowd(playing(THREE[:1]), count)
        worst = float(
            np.abs(
                np.stack(playing(THREE[:1]).shaped[0].shaper.shaped(particles, 0.4).position) - by_numpy(particles)
            ).max()
        )
        assert worst < 1e-5, f"the twist is off by {worst} m"
        work["a twist by NumPy"] = lambda collected=particles: by_numpy(collected)
        times: dict[str, list[float]] = {name: [] for name in work}
        for turn in range(RUNS + 1):
            for name, act in work.items():
                started = time.perf_counter()
                act()
                if turn:  # the first is for what is compiled
                    times[name].append(time.perf_counter() - started)
        yard = statistics.median(times["a twist by NumPy"])
        for name, took in times.items():
            print_times(name, took, count, yard)

    store, answered = FrameStore(), []
    frame = 1
    playing(THREE, store).frames(frame)
    for turn in range(RUNS + 1):  # a tenth more: a new document each time, answered with the frame's first packet
        started = time.perf_counter()
        clip = playing(THREE, store, amount=row(TURN * (1.1 + turn / 100)))
        next(iter(play_packets(clip, frame, PlayRequest(whole=False, facts=False, measured=False))))
        if turn:
            answered.append((time.perf_counter() - started) * 1000)
        assert not clip.frames_simulated, "something was simulated"
    alive = len(clip.frames(frame)[0].population)
    print(
        f"a number of three shapings, {alive:,} particles, to the frame's packet: {statistics.median(answered):.0f} "
        f"ms ({min(answered):.0f} to {max(answered):.0f})"
        f"{within('a number of three shapings of 5,000, to the packet', statistics.median(answered), most=50)}"
    )


if __name__ == "__main__":
    main()
