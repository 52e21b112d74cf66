"""Addresses: the API, and the one page of the client for all others."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path

from ..api.routes import api


def client(request: HttpRequest) -> HttpResponse:
    """Return the client's page; it routes by itself."""
    page = settings.CLIENT_DIR / "index.html"
    if not page.exists():
        return HttpResponse("The client is not built yet: run `make demo`.", status=503, content_type="text/plain")
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def nothing_here(request: HttpRequest, **_: object) -> JsonResponse:
    """Answer for an address of the API that is none."""
    words = {
        "code": "missing",
        "where": "",
        "message": "The API has no such address.",
        "remedy": "Its addresses stand in /api/openapi.json.",
    }
    return JsonResponse({"findings": [words]}, status=404)


urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api(?:/|$)", nothing_here),
    re_path(r"^(?:effects/\d+(?:/dials|/stage)?|docs(?:/[A-Z_]+)?|welcome)?$", client),
]
