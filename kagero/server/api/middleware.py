"""Only the application's own pages may change anything, and they load nothing from elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, JsonResponse

from kagero.core.errors import Cancelled
from kagero.core.wanted import Work, while_wanted

from .gone import listener

POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; worker-src 'self' blob:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


class WhileWanted:
    """Work for a request is given up when its client has gone, at whatever depth it tells of itself (`kagero.core.wanted`)."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        gone = listener(request)

        def ask() -> None:
            if gone():
                raise Cancelled()

        with while_wanted(Work(ask)):
            return self.get_response(request)


class SameOrigin:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        origin = request.headers.get("Origin")
        if request.method not in ("GET", "HEAD", "OPTIONS") and origin and urlsplit(origin).netloc != request.get_host():
            finding = {"code": "origin", "where": "", "message": "This request comes from another site.", "remedy": "Use Kagero's own pages."}
            return JsonResponse({"findings": [finding]}, status=403)
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
