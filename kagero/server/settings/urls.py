"""Addresses: the API, and the one page of the client for all others."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
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


urlpatterns = [path("api/", api.urls), re_path(r"^(?:effects/\d+(?:/dials)?)?$", client)]
