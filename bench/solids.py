"""Solid looks: pieces in the renderer, blobs, haze, cells, and what orientation adds to a step. Medians of RUNS,
interleaved, with the lowest and highest.

Yardstick: one frame of 100,000 soft discs of 12 px in the renderer, 1280 x 720, in the same run.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import trimesh

from kagero.core.document import read_effect
from kagero.core.geometry import Mesh
from kagero.core.geometry.breaking import BreakSettings, break_mesh
from kagero.core.picture import render
from kagero.core.surfaces import with_surface
from kagero.core.workflows import Playing

from .bounds import within
from .looks import SIZE, scene
from .motion import step_of

RUNS = 7


def _row(base: Any) -> dict[str, Any]:
    return {"base": base, "responses": []}


def _playing(count: int, look: dict[str, Any], motion: dict[str, Any] | None = None) -> Playing:
    document = scene(count, 24, look)
    document["emitters"][0] |= {"motion": motion or {}}
    return Playing(read_effect(document))


def _picture(count: int, look: dict[str, Any]) -> Callable[[], Any]:
    playing = _playing(count, look)
    layers = playing.layers(0)
    return lambda: render(layers, playing.viewpoint, *SIZE)


def _blobs(count: int, cell: float, size: float) -> Callable[[], Any]:
    playing = _playing(count, {"sprite": "blob", "size": _row(size), "cell": cell, "opacity": _row(1.0)})
    shown = playing.show(0)[0]
    return lambda: with_surface(playing.effect.emitters[0].look, shown, False, lambda: np.zeros((0, 7)))


def _haze(count: int) -> Callable[[], Any]:
    return _picture(count, {"sprite": "haze", "size": _row(0.5), "cell": 0.05, "density": _row(1.0)})


def _cells() -> Callable[[], Any]:
    ball = trimesh.creation.icosphere(5)
    mesh = Mesh.of(ball.vertices, ball.faces)
    return lambda: break_mesh(mesh, BreakSettings("cells", 1000))


def _step(motion: dict[str, Any]) -> Callable[[], Any]:
    """Return a step of 100,000 particles as a clip does it: its program is bound, and its results have their room."""
    document = scene(100_000, 24, {})
    document["clip"]["last_frame"] = 4
    document["emitters"][0] |= {"motion": motion}
    return step_of(Playing(read_effect(document)))


PIECE = {
    "sprite": "piece",
    "form": "block",
    "faces": "world",
    "yaw": _row(0.4),
    "size": _row(0.16),
    "both": False,
    "opacity": _row(1.0),
}
MOST = {
    "2,000 pieces of 192 triangles": 300.0,
    "blobs of 2,000, 128 cells across": 150.0,
    "blobs of 5,000, 256 cells across": 2_000.0,
    "1,000 cells of 20,480 triangles": 10_000.0,
}  # ms
TURNS = {"turning": {"spin": _row([3.0, 2.0, 1.0]), "damping": _row(0.3)}}


def main() -> None:
    works = {
        "yardstick: 100,000 discs, 12 px": _picture(100_000, {"size": _row(12 / (720 / (2 * np.tan(0.35))) * 5.0)}),
        "2,000 pieces of 192 triangles": _picture(2_000, PIECE),
        "the same, see-through": _picture(2_000, {**PIECE, "opacity": _row(0.6)}),
        "blobs of 2,000, 128 cells across": _blobs(2_000, 4.2 / 124, 0.2),
        "blobs of 5,000, 256 cells across": _blobs(5_000, 4.2 / 250, 0.2),
        "haze of 2,000, a frame": _haze(2_000),
        "1,000 cells of 20,480 triangles": _cells(),
        "a step of 100,000": _step({}),
        "a step of 100,000, turning": _step(TURNS),
    }
    times: dict[str, list[float]] = {name: [] for name in works}
    for work in works.values():
        work()
    for _ in range(RUNS):
        for name, work in works.items():
            started = time.perf_counter()
            work()
            times[name].append((time.perf_counter() - started) * 1000)
    unit = statistics.median(times["yardstick: 100,000 discs, 12 px"])
    for name, took in times.items():
        late = within(name, statistics.median(took), most=MOST[name]) if name in MOST else ""
        print(
            f"{name:<36} {statistics.median(took):>8.1f} ms ({min(took):.1f} to {max(took):.1f}) "
            f"{statistics.median(took) / unit:>8.2f} yardsticks{late}"
        )
    plain, turning = (statistics.median(times[name]) for name in ("a step of 100,000", "a step of 100,000, turning"))
    print(
        f"turning adds {(turning - plain) * 10:.1f} ns a particle and "
        f"step{within('turning, a particle and step', (turning - plain) * 10, most=15, unit='ns')}"
    )


if __name__ == "__main__":
    main()
