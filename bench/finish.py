"""Finished pictures: what each thing that is done to them adds, and the render view's first picture.

1280 x 720, 5,000 particles 24 px across that move; every row is the median of RUNS taken in turn, with the lowest and
highest. The yardstick is the plain picture of the same run.
"""

from __future__ import annotations

import statistics
import time
from typing import Any

from kagero.core.document import read_effect
from kagero.core.parts.finish import FINISH
from kagero.core.workflows import Playing, RenderRequest, render_frame

from .bounds import within
from .looks import scene

RUNS = 7
SIZE = (1280, 720)


def item(kind: str, **changes: Any) -> dict[str, Any]:
    return {**FINISH.kinds[kind].template(), "uid": kind.replace("_", "-"), "name": kind, **changes}


CASES: dict[str, list[dict[str, Any]]] = {
    "plain": [],
    "glow": [item("glow")],
    "8 moments": [item("motion_blur", moments=8)],
    "glow, 8 moments": [item("motion_blur", moments=8), item("glow")],
    "glow on one, 8 moments": [item("motion_blur", moments=8), item("glow", emitters=["a"])],
    "depth of field, 24 places": [item("depth_of_field")],
    "colour, vignette, grain, curve": [item("colour"), item("vignette"), item("grain"), item("tone_curve")],
}


def main() -> None:
    collected = {}
    for name, finish in CASES.items():
        body = scene(5_000, 24, {})
        body["emitters"][0]["births"]["launch"]["speed"] = {"base": 1.0, "responses": []}
        body["clip"]["last_frame"] = 10
        collected[name] = Playing(read_effect({**body, "finish": finish}))
        render_frame(collected[name], 5, RenderRequest(*SIZE))
    times: dict[str, list[float]] = {name: [] for name in collected}
    for _ in range(RUNS):
        for name, playing in collected.items():
            started = time.perf_counter()
            render_frame(playing, 5, RenderRequest(*SIZE))
            times[name].append(time.perf_counter() - started)
    plain = statistics.median(times["plain"])
    print(f"{'':>32} {'ms a picture':>22} {'times plain':>12}")
    for name, took in times.items():
        middle = statistics.median(took)
        print(
            f"{name:>32} {middle * 1000:8.0f} ({min(took) * 1000:.0f} to {max(took) * 1000:.0f}) "
            f"{middle / plain:12.2f}{within(f'a picture with {name}', middle * 1000, most=600) if name == 'glow, 8 moments' else ''}"
        )
    quick = []
    for _ in range(RUNS):  # the render view's first picture: a quarter of the stage's size, with what is done to it
        started = time.perf_counter()
        render_frame(collected["glow, 8 moments"], 5, RenderRequest(170, 120))
        quick.append(time.perf_counter() - started)
    print(
        f"the render view's first picture, glow and 8 moments, 170 x 120: {statistics.median(quick) * 1000:.0f} ms "
        f"({min(quick) * 1000:.0f} to {max(quick) * 1000:.0f})"
        f"{within('the first picture of the render view', statistics.median(quick) * 1000, most=200)}"
    )


if __name__ == "__main__":
    main()
