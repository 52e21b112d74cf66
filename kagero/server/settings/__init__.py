"""Configuration. KAGERO_DATA: folder for database and files; KAGERO_HOSTS: further host names, by comma; KAGERO_SECRET;
KAGERO_KEEP_DAYS, KAGERO_KEEP_EXPORTS_DAYS: how long unused files and exports stay."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parents[3]
DATA_DIR = Path(os.environ.get("KAGERO_DATA", BASE_DIR / "var"))
CLIENT_DIR = BASE_DIR / "client" / "dist"
DEMO_DIR = BASE_DIR / "demo" / "effects"

SECRET_KEY = os.environ.get("KAGERO_SECRET") or secrets.token_hex(32)  # nothing outlives a restart that it signs
DEBUG = False
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]", *filter(None, os.environ.get("KAGERO_HOSTS", "").split(","))]

INSTALLED_APPS = ["kagero.server.library", "kagero.server.jobs", "kagero.server.api"]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "kagero.server.api.middleware.SameOrigin",
    "django.middleware.common.CommonMiddleware",
    "kagero.server.api.middleware.WhileWanted",
]
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
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;",
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

# An effect file may have 8 MiB; the request around it a little more. Larger ones are refused before they are read.
DATA_UPLOAD_MAX_MEMORY_SIZE = 9 * 1024 * 1024
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"

KEEP_DAYS = float(os.environ.get("KAGERO_KEEP_DAYS", 30))  # files that no effect refers to
KEEP_EXPORTS_DAYS = float(os.environ.get("KAGERO_KEEP_EXPORTS_DAYS", 7))

THREADS = int(os.environ.get("KAGERO_THREADS", 64))
MOST_STREAMS = max(1, THREADS - 24)  # that play at once; the other threads are for short requests
MEMORY_BYTES = int(os.environ.get("KAGERO_MEMORY_BYTES", 2 << 30))  # of everything that is kept to be used again
EFFECT_BYTES = int(os.environ.get("KAGERO_EFFECT_BYTES", 3 << 30))  # that one effect may take while it is worked on

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"django.request": {"level": "ERROR"}},  # refusals are answers, not faults of the server
}
TEST_RUNNER = "tests.runner.Runner"
