"""Lines of the log: JSON, one object a line, with time, level, where it comes from, and the request and person it is
about."""

from __future__ import annotations

import json
import logging
import re
import secrets
from contextvars import ContextVar
from datetime import UTC, datetime
from typing import Any

from django.http import HttpRequest

_request: ContextVar[HttpRequest | None] = ContextVar("request", default=None)
_PLAIN = set(vars(logging.LogRecord("", 0, "", 0, "", (), None))) | {
    "message",
    "asctime",
    "taskName",
    "request",
    "status_code",
    "server_time",
}


def begin(request: HttpRequest) -> str:
    """Note which request this thread works for from now on; return its number, a proxy's where it gives one."""
    given = request.headers.get("X-Request-ID", "")
    number = given if re.fullmatch(r"[\w.-]{1,64}", given) else secrets.token_hex(6)
    request.number = number
    _request.set(request)
    return number


class Lines(logging.Formatter):
    """A record as a line. What is given as `extra` stands in it by its name."""

    def format(self, record: logging.LogRecord) -> str:
        line: dict[str, Any] = {
            "time": datetime.fromtimestamp(record.created, UTC)
            .isoformat(timespec="milliseconds")
            .replace("+00:00", "Z"),
            "level": record.levelname.lower(),
            "from": record.name,
            "message": record.getMessage(),
        }
        request = _request.get()
        if request is not None:
            user = getattr(request, "_cached_user", None)  # no query for the sake of a line
            line |= {"request": getattr(request, "number", ""), "method": request.method, "path": request.path}
            line |= {"person": user.get_username()} if user is not None and user.is_authenticated else {}
        line |= {name: value for name, value in vars(record).items() if name not in _PLAIN}
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False, default=str)


def logging_of(handlers: tuple[str, ...] = ()) -> dict[str, Any]:
    """Return the configuration of `logging.config`: what Kagero says from information on, libraries from warnings on.
    handlers: of loggers that do not pass on what they are told."""
    own = {name: {"handlers": ["console"], "level": "WARNING", "propagate": False} for name in handlers}
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {"lines": {"()": "kagero.server.connections.logs.Lines"}},
        "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines"}},
        "root": {"handlers": ["console"], "level": "WARNING"},
        "loggers": {
            "kagero": {"level": "INFO"},
            "django.request": {"level": "ERROR"},
            "django.security.DisallowedHost": {"level": "CRITICAL"},
        }
        | own,
    }
