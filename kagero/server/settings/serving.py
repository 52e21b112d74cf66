"""How gunicorn serves: one process, many threads, and patience that ends with clients that neither send nor take.

`gunicorn -c python:kagero.server.settings.serving kagero.server.settings.wsgi`, with --bind.
"""

from __future__ import annotations

import errno
import gc
import logging
import os
import socket
import threading
import time
from contextlib import suppress
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

SILENCE = 10.0  # seconds without a byte after which a client is given up
GRACE, SLOWEST = 20.0, 4096.0  # seconds anybody may take, and bytes a second that must have come or gone beyond


class TimedSocket:
    """A socket that gives clients up that are silent, or slower than SLOWEST. Time that the server itself takes does not count."""

    def __init__(self, inner: socket.socket):
        self._inner = inner
        self.begin()

    def begin(self) -> None:
        """A new request: patience starts again."""
        self._waited, self._bytes = 0.0, 0

    def setblocking(self, flag: bool) -> None:
        self._inner.settimeout(SILENCE if flag else 0.0)

    def recv(self, size: int, flags: int = 0) -> bytes:
        if flags:
            return self._inner.recv(size, flags)
        data: bytes = self._patiently(self._inner.recv, size)
        self._bytes += len(data)
        return data

    def recv_into(self, buffer: Any, *args: int) -> int:
        count: int = self._patiently(self._inner.recv_into, buffer, *args)
        self._bytes += count
        return count

    def send(self, data: Any) -> int:
        count: int = self._patiently(self._inner.send, data)
        self._bytes += count
        return count

    def sendall(self, data: Any) -> None:
        left = memoryview(data).cast("B")
        while left:
            left = left[self.send(left[: 1 << 18]) :]

    def _patiently(self, act: Any, *args: Any) -> Any:
        started = time.monotonic()
        try:
            return act(*args)
        except TimeoutError:
            raise ConnectionResetError(errno.ECONNRESET, "the client was silent for too long") from None
        finally:
            self._waited += time.monotonic() - started
            if self._waited > GRACE + self._bytes / SLOWEST:
                raise ConnectionResetError(errno.ECONNRESET, "the client was too slow")

    def __getattr__(self, name: str) -> Any:
        return getattr(self._inner, name)


class PatientWorker(ThreadWorker):
    """Threads that no slow client can hold for good."""

    def handle(self, conn: Any) -> Any:
        if not isinstance(conn.sock, TimedSocket):
            conn.sock = TimedSocket(conn.sock)
        conn.sock.begin()
        return super().handle(conn)


def post_worker_init(worker: Any) -> None:
    """Begin, in the process that serves, what goes on beside serving."""
    from kagero.server.frames import WARMING

    WARMING.announce()
    threading.Thread(target=_beside, name="beside", daemon=True).start()


def _beside() -> None:
    """Compile what is not compiled yet, make the cards of the demo's effects, and keep house as long as the server runs."""
    from django.conf import settings

    from kagero.core.document import read_effect
    from kagero.core.errors import KageroError
    from kagero.server.frames import WARMING, card
    from kagero.server.jobs import keeping

    def look_through_kept(starting: bool = False) -> None:
        try:
            keeping.sweep(starting=starting)
        except Exception:  # the disk may be full, the database locked: what is kept is looked through again in a while
            logging.getLogger("kagero").exception("What is kept besides effects could not be looked through.")

    look_through_kept(starting=True)
    WARMING.compile()
    for path in sorted(settings.DEMO_DIR.glob("*.json")):
        with suppress(KageroError, OSError):  # what is wrong with one is said where it is opened
            card(read_effect(path.read_bytes()))
    gc.collect()
    gc.freeze()  # what stays for good is not looked through again at every edit
    while True:
        time.sleep(keeping.EVERY)
        look_through_kept()


worker_class = "kagero.server.settings.serving.PatientWorker"
workers = 1
threads = int(os.environ.get("KAGERO_THREADS", 64))
graceful_timeout = 3
control_socket_disable = True
loglevel = "warning"
