"""From an edit to the new frame on the stage, in Debian's Chromium; and distinct pictures a second while a value is dragged.

Times run from the pointer event to the draw call; what software GL then takes is part of the pace of the next frame.
"""

from __future__ import annotations

import json
import math
import statistics
import time
import urllib.request

from playwright.sync_api import Page, sync_playwright

from .effects import mapped, reference
from .served import served

FLAGS = ["--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]
RUNS = 7
PATIENCE = 5  # seconds for a picture; what takes longer is said as such


def main() -> None:
    with served() as address:
        _run(address)


def _run(address: str) -> None:
    print(f"{'particles':>10} {'edit':>22} {'edit to frame':>14} {'pictures a second while dragged':>33}")
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for alive, effect in ((2_000, reference), (5_000, reference), (5_000, mapped)):
            document = effect(alive)
            if effect is mapped:
                print("with 20 responses on the emitter:")
            request = urllib.request.Request(
                f"{address}/api/effects", json.dumps({"document": document}).encode(), {"Content-Type": "application/json"}
            )
            made = json.load(urllib.request.urlopen(request))
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            page.goto(f"{address}/effects/{made['id']}")
            _settled(page)
            for what, target in (("simulated (buoyancy)", "[data-row='forces.lift.strength'] button.mono"), ("look (size)", "[data-row='look.size'] button.mono"),
                                 ("look (a curve key)", "[data-key='1']")):  # fmt: skip
                shown = page.locator(target).first
                shown.scroll_into_view_if_needed()
                box = shown.bounding_box()
                assert box
                times = [_edit(page, box, i) for i in range(RUNS)]
                seen = [each for each in times if math.isfinite(each)]
                lost = f"  ({RUNS - len(seen)} of {RUNS} edits gave no picture within {PATIENCE} s)" if len(seen) < RUNS else ""
                print(f"{alive:>10,} {what:>22} {statistics.median(seen) if seen else math.nan:>11.0f} ms {_pace(page, box):>33.1f}{lost}")
            page.close()
        browser.close()


def _settled(page: Page) -> None:
    page.wait_for_timeout(100)
    page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
    page.wait_for_timeout(100)


def _edit(page: Page, box: dict, i: int) -> float:
    """Return milliseconds from a pointer move that edits to the draw call of a new picture; infinity where none comes."""
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 4, y + 4)
    page.wait_for_timeout(400)
    page.evaluate(
        """() => { window.benchTime = new Promise((done) => addEventListener('pointermove', () => {
        const start = performance.now(), before = window.kageroStage.pictures
        const look = () => window.kageroStage.pictures > before ? done(performance.now() - start) : performance.now() - start > PATIENCE ? done(-1) : setTimeout(look, 1)
        look()
      }, { once: true, capture: true })) }""".replace("PATIENCE", str(1000 * PATIENCE))
    )
    page.mouse.move(x + 8 + i, y + 8 + i)
    took = page.evaluate("() => window.benchTime")
    page.mouse.move(x, y)
    page.mouse.up()
    _settled(page)
    return took if took >= 0 else math.inf


def _pace(page: Page, box: dict, seconds: float = 3.0) -> float:
    """Return distinct pictures a second while the value under the box is dragged without a pause."""
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 5, y + 5)
    before, started = page.evaluate("window.kageroStage.pictures"), time.monotonic()
    i = 0
    while time.monotonic() - started < seconds:
        i += 1
        page.mouse.move(x + 5 + i % 60, y + 5 + i % 40)
        page.wait_for_timeout(8)
    pictures = page.evaluate("window.kageroStage.pictures") - before
    took = time.monotonic() - started
    page.mouse.move(x, y)
    page.mouse.up()
    _settled(page)
    return pictures / took


if __name__ == "__main__":
    main()
