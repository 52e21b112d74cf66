"""Only the application's own pages may change anything, and they load nothing from elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from urllib.parse import urlsplit

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

from kagero.core.errors import Cancelled
from kagero.core.work_limits import Work, while_wanted

from ..connections import listener, logs

POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; worker-src 'self' blob:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


class CancelWhenGone:
    """Work for a request is given up when its client has gone, at whatever depth it tells of itself
    (`kagero.core.work_limits`)."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        gone = listener(request)

        def ask() -> None:
            if gone():
                raise Cancelled()

        with while_wanted(Work(ask)):
            return self.get_response(request)


class RequestNumbers:
    """Every request has a number, which stands in the log and in the answer; what the API has not is answered in its
    words."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        number = logs.begin(request)
        response = self.get_response(request)
        if (
            request.path.startswith("/api/")
            and response.status_code == 405
            and not response.get("Content-Type", "").startswith("application/json")
        ):
            allowed = response.get("Allow", "")
            response = refused(
                405,
                "method",
                f"This address does not take {request.method}.",
                f"It takes {allowed or 'another method'}.",
            )
            response["Allow"] = allowed
        response["X-Request-ID"] = number
        return response


class Headers:
    """Every answer, static files among them: loads nothing from elsewhere, is framed by nobody, is kept by nobody where
    it holds data."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response


def refused(status: int, code: str, message: str, remedy: str) -> JsonResponse:
    return JsonResponse(
        {"findings": [{"code": code, "where": "", "message": message, "remedy": remedy}]}, status=status
    )


class SameOrigin:
    """Only the application's own pages may change anything."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        origin = request.headers.get("Origin")
        if (
            request.method not in ("GET", "HEAD", "OPTIONS")
            and origin
            and urlsplit(origin).netloc != request.get_host()
        ):
            return refused(403, "origin", "This request comes from another site.", "Use Kagero's own pages.")
        return self.get_response(request)


def address_of(request: HttpRequest) -> str:
    """Return where a request comes from: what a proxy on this machine says, or the connection's own other end."""
    here: str = request.META.get("REMOTE_ADDR", "")
    forwarded = request.headers.get("X-Forwarded-For", "")
    return forwarded.rpartition(",")[2].strip() if here in settings.LOOPBACK and forwarded else here


class RequireSignIn:
    """On this machine nothing is asked, and nobody from elsewhere answered; on a network nobody gets at data without
    signing in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not settings.NETWORK:
            if address_of(request) not in (*settings.LOOPBACK, ""):
                remedy = "Name the address in KAGERO_HOSTS: then people sign in."
                return refused(403, "elsewhere", "Kagero is served to its own machine alone.", remedy)
        elif (
            request.path.startswith("/api")
            and (request.method, request.path) not in PUBLIC_PATHS
            and not request.user.is_authenticated
        ):
            return refused(401, "sign_in", "Sign in first.", "Give your name and password.")
        return self.get_response(request)


# what strangers may ask: whether they have to sign in, to sign in, and to follow an invitation
PUBLIC_PATHS = {("GET", "/api/session"), ("POST", "/api/session"), ("POST", "/api/session/welcome")}
