"""Whether anybody still listens to a response."""

from __future__ import annotations

import select
import time
from collections.abc import Callable

from django.http import HttpRequest

CHECK_INTERVAL = 0.01  # seconds between two looks at a connection: whoever works may ask at every step


def listener(request: HttpRequest) -> Callable[[], bool]:
    """Return a function that tells whether the client has closed the connection; never, where the server does not say.

    One that was not closed is looked at again after `CHECK_INTERVAL` at the earliest."""
    connection = request.META.get("gunicorn.socket")
    if connection is None:
        return lambda: False

    asked, closed = -CHECK_INTERVAL, False

    def gone() -> bool:
        nonlocal asked, closed
        now = time.monotonic()
        if closed or now - asked < CHECK_INTERVAL:
            return closed
        asked = now
        try:
            readable, _, _ = select.select([connection], [], [], 0)
            closed = bool(readable) and not connection.recv(1, 2)  # MSG_PEEK: nothing to read means closed
        except OSError:
            closed = True
        return closed

    return gone
