"""The core's renderer beside the software GL that draws the stage: the same particles, camera and picture size, in the
same run, interleaved.

GL: drawing once more and reading one pixel back, so that it is done; the order by depth is worked out anew both times.
Encoding apart. Every row is the median of RUNS with the lowest and highest; the ratio is of the medians.
"""

from __future__ import annotations

import json
import statistics
import time
import urllib.request
from typing import Any

import numpy as np
from playwright.sync_api import sync_playwright

from demo.browser import CHROMIUM
from kagero.core.document import read_effect
from kagero.core.picture import render
from kagero.core.workflows import Playing

from .bounds import within
from .browser import FLAGS
from .served import served

RUNS = 9
SIZE = (1280, 720)


def scene(count: int, pixels: float, look: dict[str, Any]) -> dict[str, Any]:
    """Return an effect of so many particles that stand still, each about so many pixels across in a picture 720
    high."""
    row = lambda base: {"base": base, "responses": []}
    metres = pixels / (720 / (2 * np.tan(0.35))) * 5.0
    emitter = {
        "uid": "a",
        "name": "All",
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "b", "frame": 0, "count": count}],
            "lifespan": row(1000.0),
            "place": {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([4.0, 2.6, 1.0])},
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
        },
        "look": {
            "sprite": "soft_disc",
            "size": row(metres),
            "opacity": row(0.6),
            "colour": row([1.0, 0.6, 0.2]),
            **look,
        },
    }
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": f"{count} of {pixels} pixels",
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": 1},
        "camera": {"position": [0.0, 1.0, 5.0], "target": [0.0, 1.0, 0.0], "field_of_view": 0.7},
        "emitters": [emitter],
    }


PICTURE = {"sprite": "picture", "shelf": "spark", "blend": "over"}
BOOK = {"sprite": "picture", "shelf": "puffs", "blend": "over", "page": {"base": 0.31, "responses": []}}
STREAK = {
    "sprite": "streak",
    "lies_along": "direction",
    "long_by": "length",
    "length": {"base": 0.3, "responses": []},
    "blend": "over",
}
RIBBON = {"sprite": "ribbon", "blend": "over", "rounded": True}
SCENES = (
    ("soft discs, 24 px", 5_000, 24, {}),
    ("soft discs, 12 px", 100_000, 12, {}),
    ("pictures, 24 px", 5_000, 24, PICTURE),
    ("pictures, 12 px", 50_000, 12, PICTURE),
    ("pages with motion, 120 px", 300, 120, BOOK),
    ("streaks, 40 px long", 20_000, 3, STREAK),
    ("a ribbon, 4 pieces each", 2_000, 6, RIBBON),
)

MOST = {"soft discs, 24 px": 80.0, "soft discs, 12 px": 500.0}  # ms


def main() -> None:
    print(
        f"{'':>28} {'core, 1280 x 720':>26} {'core, the stage’s size':>26} {'software GL':>26} {'core / GL':>10} "
        f"{'script':>9}"
    )
    with served() as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for name, count, pixels, look in SCENES:
            document = scene(count, pixels, look)
            playing = Playing(read_effect(document))
            layers = playing.layers(0)
            request = urllib.request.Request(
                f"{address}/api/effects",
                json.dumps({"document": document}).encode(),
                {"Content-Type": "application/json"},
            )
            data = json.load(urllib.request.urlopen(request))
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            page.goto(f"{address}/effects/{data['id']}/dials")
            page.wait_for_function("() => window.kageroStage?.complete", timeout=120_000)
            page.wait_for_timeout(3000)
            size = page.evaluate("(() => { const p = window.kageroStage.picture(); return [p.width, p.height] })()")
            render(layers, playing.viewpoint, *SIZE)
            times: dict[str, list[float]] = {"wide": [], "same": [], "gl": [], "script": []}
            for _ in range(RUNS):
                for key, wanted in (("wide", SIZE), ("same", size)):
                    started = time.perf_counter()
                    render(layers, playing.viewpoint, *wanted)
                    times[key].append((time.perf_counter() - started) * 1000)
                took = page.evaluate("window.kageroStage.timed()")
                times["gl"].append(took[0])
                times["script"].append(took[1])
            page.close()
            shown = [_spread(times[key]) for key in ("wide", "same", "gl")]
            ratio = statistics.median(times["same"]) / statistics.median(times["gl"])
            late = within(f"script of {count:,} {name}, a drawing", statistics.median(times["script"]), most=4)
            if name in MOST:
                late += within(f"a picture of {count:,} {name}", statistics.median(times["wide"]), most=MOST[name])
            print(
                f"{count:>8,} {name:<20} {shown[0]:>25} {shown[1]:>26} {shown[2]:>26} {ratio:>10.2f} "
                f"{statistics.median(times['script']):>6.1f} ms{late}",
                flush=True,
            )
        browser.close()


def _spread(times: list[float]) -> str:
    return f"{statistics.median(times):.0f} ({min(times):.0f} to {max(times):.0f}) ms"


if __name__ == "__main__":
    main()
