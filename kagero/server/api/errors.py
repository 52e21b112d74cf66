"""The one place that turns errors into responses."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from kagero.core.errors import BudgetError, EffectError, Finding, GeometryProblem, KageroError, RequestError

from ..jobs.exports import Unfinished
from ..library.drafts import Conflict, Missing

STATUS: list[tuple[type[KageroError], int]] = [
    (Conflict, 409),
    (Unfinished, 409),
    (Missing, 404),
    (EffectError, 422),
    (GeometryProblem, 422),
    (BudgetError, 422),
    (RequestError, 422),
]


def install(api: NinjaAPI) -> None:
    def respond(request: HttpRequest, findings: list[Finding], status: int, **more: Any) -> HttpResponse:
        return api.create_response(request, {"findings": [f.as_dict() for f in findings], **more}, status=status)

    @api.exception_handler(KageroError)
    def core(request: HttpRequest, error: KageroError) -> HttpResponse:
        status = next((status for kind, status in STATUS if isinstance(error, kind)), 500)
        more = {"revision": error.revision} if isinstance(error, Conflict) else {}
        return respond(request, error.findings, status, **more)

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
        return respond(request, [Finding("too_large", "", "This file is larger than an effect may be (8 MiB).", remedy)], 413)

    @api.exception_handler(HttpError)
    def http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return respond(request, [Finding("request", "", f"{error}.", "Correct the request.")], error.status_code)
