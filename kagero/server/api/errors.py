"""The one place that turns errors into responses."""

from __future__ import annotations

import errno
import json
import logging
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db.utils import OperationalError
from django.http import HttpRequest, HttpResponse, UnreadablePostError
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from kagero.core.errors import BudgetError, Cancelled, EffectError, Finding, GeometryProblem, KageroError, RequestError

from ..frames.runs import Busy
from ..jobs.exports import Unfinished
from ..library.drafts import Conflict, Missing
from ..people.rules import SignInRefused
from ..people.sign_in_limits import TooManyAttempts

log = logging.getLogger("kagero")

STATUS: list[tuple[type[KageroError], int]] = [
    (SignInRefused, 401),
    (TooManyAttempts, 429),
    (Busy, 503),
    (Cancelled, 408),  # nobody waits for the answer
    (Conflict, 409),
    (Unfinished, 409),
    (Missing, 404),
    (EffectError, 422),
    (GeometryProblem, 422),
    (BudgetError, 422),
    (RequestError, 422),
]


def _disk(error: Exception) -> tuple[int, str, str]:
    text, number = str(error) if isinstance(error, OperationalError) else "", getattr(error, "errno", None)
    if number in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG) or "full" in text:
        return (
            507,
            "The server's disk is full: this was not kept.",
            "Make room on it; an open Desk tries again by itself.",
        )
    if number in (errno.EROFS, errno.EACCES, errno.EPERM) or "readonly" in text or "unable to open" in text:
        return (
            503,
            "The server may not write to its data folder: this was not kept.",
            "Give it the right to; an open Desk tries again by itself.",
        )
    if "no such table" in text or "no such column" in text:
        return (
            503,
            "The server's database is of an older Kagero.",
            "Start it by `kagero serve`, or run `python manage.py migrate`.",
        )
    if "locked" in text:
        return (
            503,
            "The server's database is busy: this was not kept.",
            "Try again in a moment; an open Desk does by itself.",
        )
    return (
        503,
        "The server's disk does not work as it should: this was not kept.",
        "Look at its log; an open Desk tries again by itself.",
    )


def _place(request: HttpRequest) -> str:
    """Return where a body stops being JSON, in words."""
    try:
        json.loads(request.body)
    except json.JSONDecodeError as problem:
        return f"body, line {problem.lineno}, column {problem.colno}"
    except (ValueError, RecursionError, RequestDataTooBig):
        return "body"
    return ""


def install(api: NinjaAPI) -> None:
    def respond(request: HttpRequest, findings: list[Finding], status: int, **more: Any) -> HttpResponse:
        return api.create_response(request, {"findings": [f.as_dict() for f in findings], **more}, status=status)

    @api.exception_handler(KageroError)
    def core(request: HttpRequest, error: KageroError) -> HttpResponse:
        status = next((status for kind, status in STATUS if isinstance(error, kind)), 500)
        more = {"revision": error.revision} if isinstance(error, Conflict) else {}
        answer = respond(request, error.findings, status, **more)
        if isinstance(error, TooManyAttempts):
            answer["Retry-After"] = str(error.seconds)
        return answer

    @api.exception_handler(ValidationError)
    def wire(request: HttpRequest, error: ValidationError) -> HttpResponse:
        findings = [
            Finding("request", ".".join(str(part) for part in e["loc"][2:]), f"{e['msg']}.", "Correct the request.")
            for e in error.errors[:20]
        ]
        return respond(request, findings, 422)

    @api.exception_handler(RequestDataTooBig)
    def large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        remedy = "Check that it is an effect file and not a cache or a picture."
        return respond(
            request, [Finding("too_large", "", "This file is larger than an effect may be (8 MiB).", remedy)], 413
        )

    @api.exception_handler(OSError)
    @api.exception_handler(OperationalError)
    def disk(request: HttpRequest, error: Exception) -> HttpResponse:
        """What could not be written down: 507 where there is no room, 503 where nothing may be written, or not now; 408
        a request cut off."""
        if isinstance(error, (UnreadablePostError, ConnectionError, TimeoutError)):
            return respond(
                request, [Finding("request", "", "The request did not arrive whole.", "Send it again.")], 408
            )
        status, words, remedy = _disk(error)
        log.error("%s %s: %s", request.method, request.path, error)
        return respond(request, [Finding("disk", "", words, remedy)], status)

    @api.exception_handler(Exception)
    def fault(request: HttpRequest, error: Exception) -> HttpResponse:
        """A fault of Kagero itself: said as one, with its trace in the log."""
        log.error("%s %s", request.method, request.path, exc_info=error)
        return respond(
            request,
            [
                Finding(
                    "fault", "", "Kagero made a mistake; its log says more.", "Try something else, and tell us of it."
                )
            ],
            500,
        )

    @api.exception_handler(HttpError)
    def http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return respond(
            request, [Finding("request", _place(request), f"{error}.", "Correct the request.")], error.status_code
        )
