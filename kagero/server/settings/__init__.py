"""Configuration. KAGERO_DATA: folder for database and files, without it `var` in a checkout, else where the system
keeps such things; KAGERO_HOSTS: further host names, by comma: then people sign in; KAGERO_TLS: 0 where no proxy speaks
TLS before it; KAGERO_SECRET; KAGERO_KEEP_DAYS, KAGERO_KEEP_EXPORTS_DAYS: how long unused files and exports stay."""

from __future__ import annotations

import os
import secrets
import tempfile
from importlib.resources import files
from pathlib import Path

from platformdirs import user_data_path

from kagero.server.connections.logs import logging_of

BASE_DIR = Path(__file__).resolve().parents[3]
CHECKOUT = (
    BASE_DIR / "pyproject.toml"
).exists()  # else Kagero is installed, and the page, the demo and the handbook lie within the package
ASSETS = Path(str(files("kagero"))) / "assets"
DATA_DIR = Path(
    os.environ.get("KAGERO_DATA") or (BASE_DIR / "var" if CHECKOUT else user_data_path("kagero", appauthor=False))
)
CLIENT_DIR = BASE_DIR / "client" / "dist" if CHECKOUT else ASSETS / "client"
DEMO_DIR = BASE_DIR / "demo" / "effects" if CHECKOUT else ASSETS / "demo" / "effects"
DOCS_DIR = BASE_DIR / "docs" if CHECKOUT else ASSETS / "docs"


def _secret() -> str:
    """Return the key that sessions are signed with: from KAGERO_SECRET, or the data folder's own, made at the first
    start."""
    path = DATA_DIR / "secret"
    if found := os.environ.get("KAGERO_SECRET"):
        return found
    try:
        DATA_DIR.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile("w", dir=DATA_DIR) as stream:  # for nobody else to read
            stream.write(secrets.token_hex(32))
            stream.flush()
            os.link(stream.name, path)  # whole at once; fails where it is there
    except OSError:
        pass  # it is there, or nothing can be written: that is said where the server starts
    return path.read_text().strip() if path.exists() else secrets.token_hex(32)


SECRET_KEY = _secret()
DEBUG = False
LOOPBACK = ("127.0.0.1", "::1")
HERE = ["localhost", "127.0.0.1", "[::1]"]
ALLOWED_HOSTS = HERE + [
    host for host in map(str.strip, os.environ.get("KAGERO_HOSTS", "").split(",")) if host and host not in HERE
]
NETWORK = len(ALLOWED_HOSTS) > len(HERE)  # served to others: they sign in
TLS = NETWORK and os.environ.get("KAGERO_TLS", "1") != "0"  # a proxy before it speaks TLS to them

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "kagero.server.people",
    "kagero.server.library",
    "kagero.server.jobs",
    "kagero.server.api",
]
MIDDLEWARE = [
    "kagero.server.api.middleware.RequestNumbers",
    "kagero.server.api.middleware.Headers",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "kagero.server.api.middleware.SameOrigin",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "kagero.server.api.middleware.RequireSignIn",
    "kagero.server.api.middleware.CancelWhenGone",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}", **more}
    for name, more in (
        ("MinimumLengthValidator", {"OPTIONS": {"min_length": 10}}),
        ("UserAttributeSimilarityValidator", {}),
        ("CommonPasswordValidator", {}),
        ("NumericPasswordValidator", {}),
    )
]
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Strict"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = TLS
SECURE_HSTS_SECONDS = 31_536_000 if TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = TLS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if TLS else None
# on this machine alone nothing goes over a wire that TLS could protect
SILENCED_SYSTEM_CHECKS = [] if TLS else ["security.W004", "security.W008", "security.W012", "security.W016"]
ROOT_URLCONF = "kagero.server.settings.urls"
WSGI_APPLICATION = "kagero.server.settings.wsgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "kagero.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
        },
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
APPEND_SLASH = False

STATIC_URL = "/static/"
WHITENOISE_ROOT = CLIENT_DIR if CLIENT_DIR.exists() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_MAX_AGE = 0
WHITENOISE_ALLOW_ALL_ORIGINS = False

# An effect file may have 8 MiB; the request around it a little more. Larger ones are refused before they are read.
DATA_UPLOAD_MAX_MEMORY_SIZE = 9 * 1024 * 1024
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"

KEEP_DAYS = float(os.environ.get("KAGERO_KEEP_DAYS", 30))  # files that no effect refers to
KEEP_EXPORTS_DAYS = float(os.environ.get("KAGERO_KEEP_EXPORTS_DAYS", 7))

THREADS = int(os.environ.get("KAGERO_THREADS", 256))
MOST_STREAMS = max(1, THREADS // 4)  # that play at once; the other threads are for short requests
MEMORY_BYTES = int(os.environ.get("KAGERO_MEMORY_BYTES", 2 << 30))  # of everything that is kept to be used again
EFFECT_BYTES = int(os.environ.get("KAGERO_EFFECT_BYTES", 3 << 30))  # that one effect may take while it is worked on

LOGGING = logging_of()
TEST_RUNNER = "tests.runner.Runner"
