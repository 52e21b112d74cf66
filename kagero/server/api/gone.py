"""Whether anybody still listens to a response."""

from __future__ import annotations

import select
from collections.abc import Callable

from django.http import HttpRequest


def listener(request: HttpRequest) -> Callable[[], bool]:
    """Return a function that tells whether the client has closed the connection; never, where the server does not say."""
    connection = request.META.get("gunicorn.socket")
    if connection is None:
        return lambda: False

    def gone() -> bool:
        try:
            readable, _, _ = select.select([connection], [], [], 0)
            return bool(readable) and not connection.recv(1, 2)  # MSG_PEEK: nothing to read means closed
        except OSError:
            return True

    return gone
