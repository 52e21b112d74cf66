"""The worker that serves: a client that sends nothing holds no thread, and one that is slow holds none that another
needs."""

from __future__ import annotations

import socket
import struct
import time
from contextlib import suppress
from functools import partial
from selectors import EVENT_READ
from typing import Any

from gunicorn import util
from gunicorn.workers.gthread import ThreadWorker

from . import slow_clients
from .slow_clients import HELD, TimedSocket

SPARE = 8  # threads that are kept free, as long as a slow client can be given up
AHEAD = 1 << 19  # bytes that are kept for a client which reads more slowly than they are made
PRESSED = 0.1  # seconds between two looks for clients to give up, while more threads are wanted
CLOSED = object()  # what handling a connection returns when it has closed it


class PatientWorker(ThreadWorker):
    """Threads close the connections they served: closing one gracefully takes up to two seconds, in which the main
    thread would accept nobody."""

    busy = 0  # connections that hold a thread, or wait for one

    def enqueue_req(self, conn: Any) -> None:
        if not isinstance(conn.sock, TimedSocket):
            with suppress(OSError):
                conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_SNDBUF, AHEAD)
            conn.sock = TimedSocket(conn.sock)
        if not conn.initialized and not conn.data_ready:  # waited for by the main thread, until its first byte is here
            conn.sock.setblocking(False)
            conn.timeout = time.monotonic() + slow_clients.SILENCE
            self.pending_conns.append(conn)
            self.poller.register(conn.sock, EVENT_READ, partial(self.on_pending_socket_readable, conn))
            return
        self.busy += 1
        super().enqueue_req(conn)

    def handle(self, conn: Any) -> Any:
        conn.sock.begin()
        with HELD.holding(conn.sock):
            if result := super().handle(conn):
                return result
            if conn.sock.given_up:
                with suppress(OSError):  # what was not sent yet is thrown away
                    conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_LINGER, struct.pack("ii", 1, 0))
                util.close(conn.sock)
            else:
                util.close_graceful(conn.sock)
        return CLOSED

    def finish_request(self, conn: Any, fs: Any) -> None:
        self.busy -= 1
        if not fs.cancelled() and fs.exception() is None and fs.result() is CLOSED:
            self.nr_conns -= 1
        else:
            super().finish_request(conn, fs)

    def wait_for_and_dispatch_events(self, timeout: float) -> None:
        wanted = self.busy - HELD.ending() - (self.cfg.threads - SPARE)
        for _ in range(wanted):
            if not HELD.give_up_slowest():
                break
        super().wait_for_and_dispatch_events(min(timeout, PRESSED) if wanted > 0 else timeout)
