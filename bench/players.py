"""How long a first picture takes when several play at once, and a short request beside clients that neither send nor
take.

Yardstick, within one run: the same effects played by one after the other. Each player opens another effect in the
middle of its clip and takes its whole stream; each round has effects that nobody played before.
"""

from __future__ import annotations

import json
import socket
import threading
import time
import urllib.parse
import urllib.request
from contextlib import suppress
from pathlib import Path

import numpy as np

from .bounds import within
from .served import served

DEMO = Path(__file__).parents[1] / "demo" / "effects"
PLAYERS, ROUNDS, SLOW = 8, 2, 64


def main() -> None:
    effects = [json.loads(path.read_text()) for path in sorted(DEMO.glob("*.json"))[::3]]  # eight of them
    with served() as address:
        for path in (DEMO.parent / "props").glob("*.*"):
            urllib.request.urlopen(
                urllib.request.Request(f"{address}/api/props/files?name={path.name}", path.read_bytes())
            ).read()
        for effect in effects:  # everything compiled
            _play(address, _seeded(effect, 1), "warm")
        print(
            "first pictures of the demo's eight effects, a window each, seconds (2 cores; streams of whole clips "
            "behind them)"
        )
        print(f"{'':>28} {'median':>8} {'p95':>8} {'most':>8}")
        alone = [_play(address, _seeded(effect, 10 + r), "alone")[0] for r in range(ROUNDS) for effect in effects]
        _line("one after the other", alone)
        together: list[float] = []
        for r in range(ROUNDS):
            together += _at_once(
                address, [_seeded(effects[k % len(effects)], 100 + 10 * r + k) for k in range(PLAYERS)]
            )
        _line(f"{PLAYERS} at once", together)
        print(
            f"ratio of medians {np.median(together) / np.median(alone):.1f}, of p95 "
            f"{np.percentile(together, 95) / np.percentile(alone, 95):.1f}"
            f"{within(f'first pictures of {PLAYERS} players at once, p95', np.percentile(together, 95), most=2, unit='s')}"
        )
        _short(address)


def _seeded(effect: dict, seed: int) -> dict:
    return {**effect, "clip": {**effect["clip"], "seed": seed}}


def _play(address: str, document: dict, window: str) -> tuple[float, int]:
    """Return the seconds until the first packet is here, and the bytes of the whole stream."""
    clip = document["clip"]
    body = json.dumps(
        {"window": window, "document": document, "now": (clip["first_frame"] + clip["last_frame"]) // 2, "whole": True}
    ).encode()
    started = time.monotonic()
    with urllib.request.urlopen(
        urllib.request.Request(f"{address}/api/play", body, {"Content-Type": "application/json"})
    ) as answer:
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
    """Ask for the library while SLOW clients each read a stream, send a head and send a body a byte at a time."""
    where = urllib.parse.urlsplit(address)
    document = json.loads((DEMO / "petal-rain.json").read_text())

    def ask(count: int = 20) -> list[float]:
        times = []
        for _ in range(count):
            started = time.monotonic()
            urllib.request.urlopen(f"{address}/api/effects", timeout=60).read()
            times.append(time.monotonic() - started)
        return times

    def slow(number: int, kind: str) -> tuple[socket.socket, bytes]:
        body = json.dumps({"window": f"s{number}", "document": document, "now": 0, "whole": True}).encode()
        head = (
            f"POST /api/play HTTP/1.1\r\nHost: {where.netloc}\r\nContent-Type: application/json\r\nContent-Length: "
            f"{len(body)}\r\n\r\n"
        ).encode()
        sent = {"reads": len(head + body), "heads": 20, "bodies": len(head) + 20}[kind]
        client = socket.socket()
        client.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        client.connect((where.hostname, where.port))
        client.sendall((head + body)[:sent])
        return client, (head + body)[sent:]

    print(f"\na short request, seconds\n{'':>28} {'median':>8} {'p95':>8} {'most':>8}")
    _line("alone", ask())
    clients = [slow(number, kind) for number in range(SLOW) for kind in ("reads", "heads", "bodies")]
    ended = threading.Event()

    def dribble() -> None:
        at = 0
        while not ended.wait(0.05):
            at += 1
            for client, left in clients:
                with suppress(OSError):  # given up
                    client.send(left[at - 1 : at]) if left else client.recv(1, socket.MSG_DONTWAIT)

    thread = threading.Thread(target=dribble)
    thread.start()
    beside = ask()
    _line(f"beside {3 * SLOW} slow clients", beside)
    print(
        within(
            f"a short request beside {SLOW} slow readers, heads and bodies, the longest", max(beside), most=1, unit="s"
        )
    )
    ended.set()
    thread.join()
    for client, _ in clients:
        client.close()


def _line(what: str, times: list[float]) -> None:
    print(f"{what:>28} {np.median(times):>8.2f} {np.percentile(times, 95):>8.2f} {max(times):>8.2f}")


if __name__ == "__main__":
    main()
