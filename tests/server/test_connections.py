"""Patience with clients that neither send nor take, and what everybody else gets meanwhile."""

from __future__ import annotations

import http.client
import json
import os
import socket
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from unittest import mock

from kagero.server.connections import slow_clients
from kagero.server.connections.slow_clients import Held
from tests.making import document, emitter, row
from tests.server.test_turns import soon

ROOT = Path(__file__).parents[2]
MANY = 64  # slow clients of each kind


class Patience(unittest.TestCase):
    def pair(self) -> tuple[slow_clients.TimedSocket, socket.socket]:
        ours, theirs = socket.socketpair()
        self.addCleanup(ours.close)
        self.addCleanup(theirs.close)
        timed = slow_clients.TimedSocket(ours)
        timed.setblocking(True)
        return timed, theirs

    def test_a_client_that_is_silent_is_given_up(self):
        with mock.patch.object(slow_clients, "SILENCE", 0.05):
            timed, _ = self.pair()
            with self.assertRaises(ConnectionResetError):
                timed.recv(10)

    def test_a_client_that_takes_nothing_is_given_up_and_one_that_does_gets_all(self):
        with mock.patch.object(slow_clients, "SILENCE", 0.2):
            timed, theirs = self.pair()
            with self.assertRaises(ConnectionResetError):
                timed.sendall(bytes(1 << 24))
            timed, theirs = self.pair()
            got = []

            def take():
                while len(b := theirs.recv(1 << 16)) and sum(got) + len(b) < 1 << 22:
                    got.append(len(b))
                got.append(len(b))

            taker = threading.Thread(target=take)
            taker.start()
            timed.sendall(bytes(1 << 22))
            taker.join()
            self.assertEqual(sum(got), 1 << 22)

    def test_a_client_that_dribbles_is_given_up_and_time_of_the_server_s_own_does_not_count(self):
        with mock.patch.object(slow_clients, "GRACE", 0.1), mock.patch.object(slow_clients, "SLOWEST", 1e9):
            timed, theirs = self.pair()

            def dribble():
                for _ in range(40):
                    try:
                        theirs.send(b"x")
                    except OSError:
                        return
                    time.sleep(0.02)

            dribbler = threading.Thread(target=dribble)
            dribbler.start()
            with self.assertRaises(ConnectionResetError):
                for _ in range(1000):
                    timed.recv(1)
            timed._inner.close()
            dribbler.join()
            timed, theirs = self.pair()
            theirs.send(b"xy")
            timed.recv(1)
            time.sleep(0.2)
            self.assertEqual(timed.recv(1), b"y")
            timed.begin()
            self.assertEqual(timed._waited, 0)

    def test_the_slowest_is_given_up_first_and_nobody_who_was_not_waited_for(self):
        held = Held()
        with mock.patch.object(slow_clients, "SLOW", 0.05):
            clients = [self.pair() for _ in range(3)]
            ended: list[int] = []

            def read(number: int, timed: slow_clients.TimedSocket):
                with held.holding(timed):
                    try:
                        for _ in range(2):
                            timed.recv(100)
                    except ConnectionResetError:
                        ended.append(number)

            self.assertFalse(held.give_up_slowest())
            clients[1][1].send(b"a request of several bytes")  # of three that wait now, one has sent something
            threads = [threading.Thread(target=read, args=(k, timed)) for k, (timed, _) in enumerate(clients)]
            for thread in threads:
                thread.start()
            clients[2][0].streaming = True
            self.assertFalse(held.give_up_slowest())
            time.sleep(0.2)
            self.assertTrue(held.give_up_slowest(streaming=True))
            threads[2].join(10)
            self.assertFalse(held.give_up_slowest(streaming=True))
            for _ in range(2):
                self.assertTrue(held.give_up_slowest())
                soon(lambda: held.ending() == 0)
            for thread in threads:
                thread.join(10)
            self.assertEqual((ended, held.ending()), ([2, 0, 1], 0))


@contextmanager
def served(threads: int) -> Iterator[tuple[int, int]]:
    """Serve a folder of its own; give the port and the process."""
    with tempfile.TemporaryDirectory() as folder, socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        around = {
            **os.environ,
            "KAGERO_DATA": folder,
            "KAGERO_THREADS": str(threads),
            "PYTHONPATH": str(ROOT),
            "PYTHONWARNINGS": "ignore",
        }
        server = subprocess.Popen(
            [sys.executable, "-m", "kagero", "serve", "--port", str(port)],
            cwd=folder,
            env=around,
            stdout=subprocess.DEVNULL,
        )
        try:
            yield port, server.pid
        finally:
            server.terminate()
            server.wait()


class Served(unittest.TestCase):
    """A server with so few threads that slow clients could take them all."""

    def setUp(self):
        self.port, self.pid = self.enterContext(served(48))
        soon(lambda: self.status("GET", "/api/effects") == 200, 60)

    def status(self, method: str, path: str, body: bytes | None = None) -> int:
        """Return the status of an answer; 0 where nobody listens."""
        return self.asked(method, path, body)[0]

    def asked(self, method: str, path: str, body: bytes | None = None) -> tuple[int, int]:
        """Return the status of an answer and its bytes, all of them read; 0 where nobody listens."""
        client = http.client.HTTPConnection("127.0.0.1", self.port, timeout=10)
        try:
            client.request(method, path, body, {"Content-Type": "application/json"})
            answer = client.getresponse()
            return answer.status, len(answer.read())
        except ConnectionRefusedError:
            return 0, 0
        finally:
            client.close()

    def whole(self, window: str) -> int:
        """Return the bytes of a clip, played as soon as there is room for one more."""
        answered: list[tuple[int, int]] = []
        soon(
            lambda: answered.append(self.asked("POST", "/api/play", self.play(window)[1])) or answered[-1][0] != 503, 20
        )
        self.assertEqual(answered[-1][0], 200)
        return answered[-1][1]

    def test_slow_readers_slow_headers_and_slow_bodies_at_once_stop_nobody_else(self):
        slow = [self.slow(f"w{number:03}", kind) for number in range(MANY) for kind in ("reads", "heads", "bodies")]
        threading.Thread(target=self.dribble, args=(slow,), daemon=True).start()
        before = self.children()
        for _ in range(20):
            self.assertEqual(self.status("GET", "/api/effects"), 200)
            time.sleep(0.05)
        self.assertGreater(self.whole("fast"), 1_000_000)
        self.assertEqual(self.children(), before, "the process that serves was replaced")

    def play(self, window: str) -> tuple[bytes, bytes]:
        """Return the head and the body of a request for some megabytes of a clip."""
        clip = document(emitter(births__rate=row(700)))
        body = json.dumps({"window": window, "document": clip, "now": 0, "whole": True}).encode()
        head = (
            "POST /api/play HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: "
            f"{len(body)}\r\n\r\n"
        )
        return head.encode(), body

    def slow(self, window: str, kind: str) -> tuple[socket.socket, str, bytes]:
        """Begin a request that is read, or whose head or body is sent, a byte at a time; return what is left to
        send."""
        head, body = self.play(window)
        sent = {"reads": len(head + body), "heads": 20, "bodies": len(head) + 20}[kind]
        client = socket.socket()
        self.addCleanup(client.close)
        client.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        client.connect(("127.0.0.1", self.port))
        client.sendall((head + body)[:sent])
        return client, kind, (head + body)[sent:]

    def dribble(self, slow: list[tuple[socket.socket, str, bytes]]) -> None:
        for number in range(200):
            for client, kind, left in slow:
                with suppress(OSError):  # given up, as it should be
                    client.recv(1, socket.MSG_DONTWAIT) if kind == "reads" else client.send(left[number : number + 1])
            time.sleep(0.05)

    def children(self) -> list[str]:
        """Return the processes that serve."""
        return Path(f"/proc/{self.pid}/task/{self.pid}/children").read_text().split()
