"""From an edit to the new frame on the stage, in Debian's Chromium; and distinct pictures a second while a value is
dragged.

Times run from the pointer event to the draw call; server: until the first packet has come over the wire, asked by
itself; script: what the page's own script took an edit; the rest: waiting for the browser and software GL, which is
also part of the pace of the next frame.
"""

from __future__ import annotations

import copy
import json
import math
import statistics
import time
import urllib.request
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, CDPSession, Page, sync_playwright

from demo.browser import CHROMIUM
from kagero.core.formats import unpack

from .bounds import within
from .effects import mapped, reference
from .served import served

FLAGS = [
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
RUNS = 7
NOW = 40  # the frame that the server is asked for
DEMO = Path(__file__).parents[1] / "demo" / "effects"
PATIENCE = 5  # seconds for a picture; what takes longer is said as such


def main() -> None:
    with served() as address:
        _run(address)


def _run(address: str) -> None:
    print(
        f"{'particles':>10} {'edit':>22} {'edit to frame':>14} {'server':>10} {'script':>10} {'the rest':>10} "
        f"{'pictures a second while dragged':>33}"
    )
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for alive, effect in ((2_000, reference), (5_000, reference), (5_000, mapped)):
            document = effect(alive)
            if effect is mapped:
                print("with 20 responses on the emitter:")
            request = urllib.request.Request(
                f"{address}/api/effects",
                json.dumps({"document": document}).encode(),
                {"Content-Type": "application/json"},
            )
            data = json.load(urllib.request.urlopen(request))
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            page.goto(f"{address}/effects/{data['id']}")
            _settled(page)
            for what, target in (
                ("simulated (buoyancy)", "[data-row='forces.lift.strength'] button.mono"),
                ("look (size)", "[data-row='look.size'] button.mono"),
                ("look (a curve key)", "[data-key='1']"),
            ):
                shown = page.locator(target).first
                shown.scroll_into_view_if_needed()
                box = shown.bounding_box()
                assert box
                script = page.context.new_cdp_session(page)
                script.send("Performance.enable")
                edits = [_edit(page, box, i, script) for i in range(RUNS)]
                times, scripted = [took for took, _ in edits], statistics.median(ran for _, ran in edits)
                answered = _server(address, document, what.startswith("look"))
                seen = [each for each in times if math.isfinite(each)]
                name = f"{alive:,}{' with 20 responses' if effect is mapped else ''}, {what}"
                lost = (
                    f"  ({RUNS - len(seen)} of {RUNS} edits gave no picture within {PATIENCE} s)"
                    if len(seen) < RUNS
                    else ""
                )
                pace = _pace(page, box)
                print(
                    f"{alive:>10,} {what:>22} {_median(seen):>11.0f} ms {answered:>7.0f} ms {scripted:>7.0f} ms "
                    f"{_median(seen) - answered - scripted:>7.0f} ms {pace:>33.1f}{lost}"
                    f"{_out_of_bounds(name, what.startswith('look'), _median(seen), answered + scripted, pace)}"
                )
            page.close()
        _opening(address, browser)
        browser.close()


def _out_of_bounds(name: str, look: bool, edit: float, ours: float, pace: float) -> str:
    """Compare an edit (ms to the frame, and of server and script) and the pictures a second of a drag with their
    bounds; words for what is out."""
    return (
        within(f"{name}: edit to frame", edit, most=50 if look else 150)
        + within(f"{name}: server and script", ours, most=15 if look else 60)
        + within(f"{name}: distinct pictures a second", pace, least=15, unit="")
    )


def _median(times: list[float]) -> float:
    return statistics.median(times) if times else math.nan


def _script(session: CDPSession) -> float:
    """Return milliseconds that the page's script has run so far."""
    metrics = {each["name"]: each["value"] for each in session.send("Performance.getMetrics")["metrics"]}
    return 1000 * float(metrics["ScriptDuration"])


def _server(address: str, document: dict[str, Any], look: bool) -> float:
    """Return milliseconds until the first packet of an edited document has come over the wire, the browser at rest;
    what is held stays out."""
    held: list[dict[str, Any]] = []
    times = []
    for i in range(RUNS + 1):
        changed = copy.deepcopy(document)
        emitter = changed["emitters"][0]
        row = emitter["look"]["size"] if look else next(f for f in emitter["forces"] if f["uid"] == "lift")["strength"]
        row["base"] = row["base"] * (1 + 0.01 * i)
        body = {
            "document": changed,
            "window": "bench",
            "now": NOW,
            "whole": False,
            "facts": False,
            "measured": False,
            "picked": None,
            "shade": "",
            "field": "",
            "held": held,
        }
        request = urllib.request.Request(
            f"{address}/api/play", json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        started = time.perf_counter()
        with urllib.request.urlopen(request) as answer:
            head = answer.read(8)
            packet = head + answer.read(int.from_bytes(head[4:8], "little") - 8)
            times.append(1000 * (time.perf_counter() - started))
        header, _ = unpack(packet)
        held = [
            {"uid": e["uid"], "motion": e["motion"], "look": e["look"], "first": NOW, "last": NOW}
            for e in header["emitters"]
        ]
    return statistics.median(times[1:])


def _opening(address: str, browser: Browser) -> None:
    """Print how long the largest effect of the demo takes to a playing picture, and the Library with 100 effects to its
    cards' names."""
    for name in sorted(DEMO.glob("*.json")):
        urllib.request.urlopen(
            urllib.request.Request(
                f"{address}/api/effects",
                json.dumps({"document": json.loads(name.read_text())}).encode(),
                {"Content-Type": "application/json"},
            )
        )
    there = json.load(urllib.request.urlopen(f"{address}/api/effects"))
    largest = max(there, key=lambda each: len(urllib.request.urlopen(f"{address}/api/effects/{each['id']}").read()))
    while len(there) < 100:
        urllib.request.urlopen(
            urllib.request.Request(
                f"{address}/api/effects/{largest['id']}/copy", b"{}", {"Content-Type": "application/json"}
            )
        )
        there = json.load(urllib.request.urlopen(f"{address}/api/effects"))
    for what, path, until in (
        (
            f"opening {largest['name']} to a picture that plays",
            f"/effects/{largest['id']}",
            "() => window.kageroStage?.frame >= 0",
        ),
        (f"the Library with {len(there)} effects", "/", "() => document.querySelectorAll('[data-card]').length >= 100"),
    ):
        times = []
        for _ in range(4):
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            started = time.perf_counter()
            page.goto(address + path, wait_until="commit")
            page.wait_for_function(until, timeout=60_000)
            if path != "/":
                page.keyboard.press("Space")
                page.wait_for_function(
                    "(at) => window.kageroStage.frame !== at",
                    arg=page.evaluate("window.kageroStage.frame"),
                    timeout=60_000,
                )
            times.append(time.perf_counter() - started)
            page.close()
        print(
            f"{what}: {statistics.median(times[1:]):.2f} s ({min(times[1:]):.2f} to {max(times[1:]):.2f}), warm "
            f"server{within(what, statistics.median(times[1:]), most=1.5 if path != '/' else 1, unit='s')}"
        )


def _settled(page: Page) -> None:
    page.wait_for_timeout(100)
    page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
    page.wait_for_timeout(100)


def _edit(page: Page, box: dict, i: int, session: CDPSession) -> tuple[float, float]:
    """Return milliseconds from a pointer move that edits to the draw call of a new picture, infinity where none comes;
    and how many of them the page's script ran."""
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
    before = _script(session)
    page.mouse.move(x + 8 + i, y + 8 + i)
    took = page.evaluate("() => window.benchTime")
    ran = _script(session) - before
    page.mouse.move(x, y)
    page.mouse.up()
    _settled(page)
    return (took if took >= 0 else math.inf), ran


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
