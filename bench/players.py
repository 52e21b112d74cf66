"""How long a first picture takes when several play at once, and a short request beside clients that neither send nor take.

Yardstick, within one run: the same effects played by one after the other. Each player opens another effect in the middle of its clip and
takes its whole stream; each round has effects that nobody played before.
"""

from __future__ import annotations

import json
import socket
import threading
import time
import urllib.parse
import urllib.request
from pathlib import Path

import numpy as np

from .bounds import within
from .served import served

DEMO = Path(__file__).parents[1] / "demo" / "effects"
PLAYERS, ROUNDS, SLOW = 8, 4, 16


def main() -> None:
    effects = [json.loads(path.read_text()) for path in sorted(DEMO.glob("*.json"))[::3]]  # eight of them
    with served() as address:
        for path in (DEMO.parent / "props").glob("*.*"):
            urllib.request.urlopen(urllib.request.Request(f"{address}/api/props/files?name={path.name}", path.read_bytes())).read()
        for effect in effects:  # everything compiled
            _play(address, _seeded(effect, 1), "warm")
        print("first pictures of the demo's eight effects, a window each, seconds (2 cores; streams of whole clips behind them)")
        print(f"{'':>28} {'median':>8} {'p95':>8} {'most':>8}")
        alone = [_play(address, _seeded(effect, 10 + r), "alone")[0] for r in range(ROUNDS) for effect in effects]
        _line("one after the other", alone)
        together: list[float] = []
        for r in range(ROUNDS):
            together += _at_once(address, [_seeded(effects[k % len(effects)], 100 + 10 * r + k) for k in range(PLAYERS)])
        _line(f"{PLAYERS} at once", together)
        print(
            f"ratio of medians {np.median(together) / np.median(alone):.1f}, of p95 {np.percentile(together, 95) / np.percentile(alone, 95):.1f}"
            f"{within(f'first pictures of {PLAYERS} players at once, p95', np.percentile(together, 95), most=2, unit='s')}"
        )
        _short(address)


def _seeded(effect: dict, seed: int) -> dict:
    return {**effect, "clip": {**effect["clip"], "seed": seed}}


def _play(address: str, document: dict, window: str) -> tuple[float, int]:
    """Return the seconds until the first packet is here, and the bytes of the whole stream."""
    clip = document["clip"]
    body = json.dumps({"window": window, "document": document, "now": (clip["first_frame"] + clip["last_frame"]) // 2, "whole": True}).encode()
    started = time.monotonic()
    with urllib.request.urlopen(urllib.request.Request(f"{address}/api/play", body, {"Content-Type": "application/json"})) as answer:
        first = len(answer.read(64))
        took = time.monotonic() - started
        while chunk := answer.read(1 << 20):
            first += len(chunk)
    return took, first


def _at_once(address: str, documents: list[dict]) -> list[float]:
    found = [0.0] * len(documents)

    def one(k: int) -> None:
        found[k] = _play(address, documents[k], f"player {k}")[0]

    threads = [threading.Thread(target=one, args=(k,)) for k in range(len(documents))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def _short(address: str) -> None:
    """Ask for the library while SLOW clients have sent half a request, and as many take nothing of a stream."""
    where = urllib.parse.urlsplit(address)
    document = json.loads((DEMO / "petal-rain.json").read_text())
    body = json.dumps({"window": "slow", "document": document, "now": 0, "whole": True}).encode()
    head = f"POST /api/play HTTP/1.1\r\nHost: {where.netloc}\r\nContent-Type: application/json\r\nContent-Length: {len(body)}\r\n\r\n".encode()

    def ask(count: int = 30) -> list[float]:
        times = []
        for _ in range(count):
            started = time.monotonic()
            urllib.request.urlopen(f"{address}/api/effects", timeout=60).read()
            times.append(time.monotonic() - started)
        return times

    print(f"\na short request, seconds\n{'':>28} {'median':>8} {'p95':>8} {'most':>8}")
    _line("alone", ask())
    slow = [socket.create_connection((where.hostname, where.port)) for _ in range(2 * SLOW)]
    for each in slow[:SLOW]:
        each.sendall(head[:-20])
    for number, each in enumerate(slow[SLOW:]):
        each.sendall(head + body.replace(b'"slow"', f'"s{number:03}"'.encode()))
    time.sleep(1)
    beside = ask()
    _line(f"beside {2 * SLOW} slow clients", beside)
    print(within(f"a short request beside {2 * SLOW} slow clients, the longest", max(beside), most=1, unit="s"))
    for each in slow:
        each.close()


def _line(what: str, times: list[float]) -> None:
    print(f"{what:>28} {np.median(times):>8.2f} {np.percentile(times, 95):>8.2f} {max(times):>8.2f}")


if __name__ == "__main__":
    main()
