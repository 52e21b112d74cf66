"""What pushes, rides and neighbours take: `python -m bench.motion`. Each push alone, against a loop in C that does the
same where there is one."""

from __future__ import annotations

import ctypes
import math
import shutil
import statistics
import subprocess
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from demo.parts import row
from kagero.core.document import read_effect
from kagero.core.engine import MARGIN, current_engine, prepare_for_engine
from kagero.core.engine.native import machine
from kagero.core.geometry import Mesh
from kagero.core.parts.pushes import PUSHES
from kagero.core.simulation import step_inputs
from kagero.core.simulation.neighbours import neighbour_values
from kagero.core.workflows import Playing

from .bounds import within
from .effects import reference
from .handwritten import BUILD, HERE

ALIVE, DT, RUNS = 50_000, 0.04, 9
SPHERE = {"content": "9" * 32, "name": "ball.glb"}


def effect(forces: list[Any], props: list[Any] = [], rides: list[Any] = [], alive: int = ALIVE, **more: Any) -> Playing:  # noqa: B006
    data = {**reference(alive, 12), "schema_version": 8, "props": props}
    emitter = data["emitters"][0]
    emitter |= {"forces": forces, "rides": rides, **more}
    emitter["births"]["launch"]["aim"], emitter["look"]["sprite"] = "direction", "soft_disc"
    return Playing(read_effect(data), content=lambda _: ball())


def ball(across: int = 100) -> Mesh:
    """Return a sphere of 20,000 triangles with (u, v)."""
    u, v = (g.ravel() for g in np.meshgrid(np.linspace(0, 1, across + 1), np.linspace(0.001, 0.999, across + 1)))
    points = np.stack(
        [np.sin(np.pi * v) * np.cos(math.tau * u), -np.cos(np.pi * v), np.sin(np.pi * v) * np.sin(math.tau * u)], 1
    )
    i, j = (g.ravel() for g in np.meshgrid(np.arange(across), np.arange(across)))
    a = j * (across + 1) + i
    faces = np.concatenate(
        [np.stack([a, a + across + 1, a + 1], 1), np.stack([a + 1, a + across + 1, a + across + 2], 1)]
    )
    return Mesh.of(points.astype(np.float32), faces.astype(np.int32), np.stack([u, v], 1).astype(np.float32))


def step_of(values: Playing, threads: int = 1) -> Callable[[], dict[str, np.ndarray]]:
    """Return one step of an effect's particles, ready to be timed: its program is bound, as once for each step."""
    plan, state = values.plan.emitters[0], values.frames(4)[0].population
    program = prepare_for_engine(plan.step, replace(current_engine(), threads=threads))
    inputs = step_inputs(state, np.float32(DT), 5 * DT)
    room = np.empty((len(plan.step.outputs), len(state) + 2 * MARGIN), np.float32)
    names = list(plan.step.outputs)

    bound = program.bound(plan.values, inputs, len(state))

    def run() -> dict[str, np.ndarray]:
        bound(0, len(state), room, None)
        return dict(zip(names, room[:, MARGIN:-MARGIN], strict=True))

    run()
    for compiled in machine._plans.values():
        if not compiled.thorough:
            compiled.optimise()
    return run


def took(works: dict[str, Callable[[], Any]], turns: int = 20) -> dict[str, list[float]]:
    """Return seconds a turn, interleaved."""
    times: dict[str, list[float]] = {name: [] for name in works}
    for _ in range(RUNS):
        for name, work in works.items():
            started = time.perf_counter()
            for _ in range(turns):
                work()
            times[name].append((time.perf_counter() - started) / turns)
    return times


def print_times(times: list[float], each: float = 1.0) -> str:
    return f"{statistics.median(times) / each:9.2f} ({min(times) / each:.2f} to {max(times) / each:.2f})"


def in_c(name: str, values: Playing) -> Callable[[], list[np.ndarray]] | None:
    """Return the loop in C of a push, or nothing where there is none."""
    if shutil.which("gcc") is None:
        return None
    BUILD.mkdir(exist_ok=True)
    library, source = BUILD / "pushes.so", HERE / "pushes.c"
    if not library.exists() or library.stat().st_mtime < source.stat().st_mtime:
        subprocess.run(
            ["gcc", "-O3", "-march=native", "-ffast-math", "-shared", "-fPIC", "-o", str(library), str(source), "-lm"],
            check=True,
        )
    keep, gain = math.exp(-0.8 * DT), -math.expm1(-0.8 * DT) / 0.8
    w, g = math.sqrt(10 - 1), 1.0  # of a spring of stiffness 10 and damping 2
    c, s = math.cos(w * DT), math.sin(w * DT)
    e = math.exp(-g * DT)
    settings = {
        "gravity": [9.81],
        "pull": [2.0, 0.01, 0, 1, 0],
        "swirl": [2.0, 0.01],
        "drag": [keep, gain, (DT - gain) / 0.8],
        "spring": [e * (c - g / w * s), e * s / w, (1 - e * (c + g / w * s)) / 10, 10.0, 0, 1, 0],
    }
    if name not in settings:
        return None
    state = values.frames(4)[0].population
    given, out = [*state.position, *state.velocity], [np.empty(len(state), np.float32) for _ in range(6)]
    numbers = np.array(settings[name], np.float32)
    pointers = lambda arrays: (ctypes.c_void_p * len(arrays))(*(a.ctypes.data for a in arrays))
    function, args = getattr(ctypes.CDLL(str(library)), name), (pointers(given), pointers(out))

    def work() -> list[np.ndarray]:
        function(ctypes.c_int64(len(state)), *args, ctypes.c_float(DT), ctypes.c_void_p(numbers.ctypes.data))
        return [*given[:0], *out]

    return work


def pushes() -> None:
    print(
        f"each push alone, {ALIVE:,} particles, one thread; ns a particle and step, medians of {RUNS} (lowest to "
        "highest), interleaved with C"
    )
    line = {
        "kind": "path",
        "uid": "line",
        "name": "Line",
        "points": [[-1.0, 0.5, 0.0], [0.0, 1.2, 0.4], [1.0, 0.5, 0.0]],
    }
    for kind, part in PUSHES.kinds.items():
        if kind == "field":
            continue  # it needs a file: `read between its points` below
        push = {
            **part.template(),
            "uid": "p",
            **({"path": "line"} if kind == "stream" else {}),
            **({"fades": "even"} if "fades" in part.model_fields else {}),
        }
        more: dict[str, Any] = {"target": {"prop": "line", "on": "edges"}} if kind == "toward_target" else {}
        if kind == "neighbours":
            more = {"motion": {"near": {"within": row(0.05)}}}
        if kind == "limit":
            push |= {}
        result = effect([push], [line], **more)
        works: dict[str, Callable[[], Any]] = {"ours": step_of(result)}
        c = in_c(kind, result)
        if c is not None:
            works["c"] = c
            ours, theirs = works["ours"](), c()
            for name, values in zip(
                [f"{part}.{axis}" for part in ("position", "velocity") for axis in "xyz"], theirs, strict=True
            ):
                np.testing.assert_allclose(ours[name], values, atol=2e-3, err_msg=f"{kind} {name}")
        times = took(works)
        words = f"  {kind:<14} {print_times(times['ours'], ALIVE * 1e-9)}"
        if c is not None:
            ratio = [a / b for a, b in zip(times["ours"], times["c"], strict=True)]
            words += (
                f"   C {print_times(times['c'], ALIVE * 1e-9)}   ours to C {statistics.median(ratio):.2f} "
                f"({min(ratio):.2f} to {max(ratio):.2f})"
            )
            words += within(f"{kind}, to the C loop", statistics.median(ratio), most=1.2, unit="times")
        print(words)


def around() -> None:
    """Print what is done once for each step, whatever the number of particles."""
    fields = effect([{**PUSHES.kinds["drag"].template(), "uid": "p"}])
    plan, state = fields.plan.emitters[0], fields.frames(4)[0].population
    program = prepare_for_engine(plan.step, replace(current_engine(), threads=1))
    inputs, room = (
        step_inputs(state, np.float32(DT), 5 * DT),
        np.empty((len(plan.step.outputs), 3 * MARGIN), np.float32),
    )
    span = program.bound(plan.values, inputs, len(state))
    times = took(
        {"bind": lambda: program.bound(plan.values, inputs, len(state)), "call": lambda: span(0, MARGIN, room, None)},
        200,
    )
    print(
        f"once for each step and emitter, drag: binding the program {print_times(times['bind'], 1e-6)} µs, calling it "
        f"{print_times(times['call'], 1e-6)} µs"
    )


def rides() -> None:
    print(f"rides on a mesh of {len(ball().faces):,} faces, {ALIVE:,} particles; µs a particle and step, one thread")
    prop = {"kind": "mesh", "uid": "ball", "name": "Ball", "file": SPHERE}
    line = {
        "kind": "path",
        "uid": "line",
        "name": "Line",
        "points": [[-1.0, 0.5, 0.0], [0.0, 1.2, 0.4], [1.0, 0.5, 0.0]],
    }
    for kind, ride in {
        "surface": {"kind": "surface", "uid": "r", "prop": "ball", "u": row(0.2), "v": row(0.4), "travel_u": row(0.1)},
        "path": {"kind": "path", "uid": "r", "prop": "line", "travel": row(0.2)},
        "crawl": {"kind": "crawl", "uid": "r", "prop": "ball"},
    }.items():
        result = effect([], [prop, line], [ride])
        times = took({"ours": step_of(result)}, 3)["ours"]
        late = (
            within(
                f"a ride of {kind}, a particle and step", statistics.median(times) / ALIVE * 1e6, most=0.25, unit="µs"
            )
            if kind == "surface"
            else ""
        )
        print(f"  {kind:<14} {print_times(times, ALIVE * 1e-6)}{late}")


def neighbours() -> None:
    chance = np.random.default_rng(4)
    count, wanted = 100_000, 20
    place, velocity = (
        values.astype(np.float32) for values in (chance.uniform(0, 1, (3, count)), chance.normal(size=(3, count)))
    )
    radius = np.full(count, (wanted / count / (4 / 3 * math.pi)) ** (1 / 3), np.float32)
    seen = neighbour_values(place, velocity, radius, 2)[:, 0].mean()
    times = took(
        {
            f"{threads} threads": lambda threads=threads: neighbour_values(place, velocity, radius, threads)
            for threads in (1, 2)
        },
        2,
    )
    late = within(f"neighbours of {count:,}, two threads", statistics.median(times["2 threads"]) * 1e3, most=60)
    print(
        f"neighbours of {count:,} particles, {seen:.1f} each: "
        + ", ".join(f"{name} {print_times(each, 1e-3)} ms" for name, each in times.items())
        + late
    )


def main() -> None:
    pushes()
    around()
    rides()
    neighbours()


if __name__ == "__main__":
    main()
