"""Sockets that give up clients which neither send nor take bytes, and which of them is given up first when threads run
short."""

from __future__ import annotations

import errno
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

from django.http import HttpRequest

SILENCE = 10.0  # seconds without a byte after which a client is given up
GRACE, SLOWEST = 20.0, 4096.0  # seconds anybody may take, and bytes a second that must have come or gone beyond
SLOW = 0.5  # seconds that a client must have been waited for before it may be given up for the sake of others


class TimedSocket:
    """A socket that gives clients up that are silent, or slower than SLOWEST. Time that the server itself takes does
    not count."""

    def __init__(self, inner: socket.socket):
        self._inner = inner
        self.given_up = False
        self.begin()

    def begin(self) -> None:
        """A new request: patience starts again."""
        self._waited, self._bytes, self._since = 0.0, 0, None
        self.streaming = False

    _since: float | None

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

    def give_up(self) -> None:
        """End the connection at once, from any thread: the thread that waits for the client goes on with a
        ConnectionResetError."""
        self.given_up = True
        with suppress(OSError):
            self._inner.shutdown(socket.SHUT_RDWR)

    def slowness(self, now: float) -> float:
        """Return the seconds that each byte of this request was waited for; 0 where nothing is waited for now, or not
        for long yet."""
        since = self._since
        if since is None or self.given_up:
            return 0.0
        waited = self._waited + now - since
        return waited / (1 + self._bytes) if waited >= SLOW else 0.0

    def _patiently(self, act: Any, *args: Any) -> Any:
        started = self._since = time.monotonic()
        try:
            result = act(*args)
        except TimeoutError:
            raise ConnectionResetError(errno.ECONNRESET, "the client was silent for too long") from None
        finally:
            self._since = None
            self._waited += time.monotonic() - started
            if self.given_up or self._waited > GRACE + self._bytes / SLOWEST:
                self.given_up = True
                raise ConnectionResetError(errno.ECONNRESET, "the client was too slow")
        return result

    def __getattr__(self, name: str) -> Any:
        return getattr(self._inner, name)


class Held:
    """The connections that hold a thread."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._sockets: set[TimedSocket] = set()

    @contextmanager
    def holding(self, connection: TimedSocket) -> Iterator[None]:
        """Count a connection among those that hold a thread."""
        with self._lock:
            self._sockets.add(connection)
        try:
            yield
        finally:
            with self._lock:
                self._sockets.discard(connection)

    def ending(self) -> int:
        """Return how many were given up and hold their thread still."""
        with self._lock:
            return sum(each.given_up for each in self._sockets)

    def give_up_slowest(self, streaming: bool = False) -> bool:
        """Give up the client whose every byte is waited for longest; False where none was waited for as long as SLOW.

        :param streaming: only among those that a stream is sent to
        """
        now = time.monotonic()
        with self._lock:
            found = [(each.slowness(now), id(each), each) for each in self._sockets if each.streaming or not streaming]
        slowness, _, slowest = max(found, default=(0.0, 0, None))
        if slowest is None or slowness <= 0:
            return False
        slowest.give_up()
        return True


HELD = Held()


def streams(request: HttpRequest) -> None:
    """Note that a stream is sent to the client of this request."""
    connection = request.META.get("gunicorn.socket")
    if isinstance(connection, TimedSocket):
        connection.streaming = True
