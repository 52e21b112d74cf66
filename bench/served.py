"""A server of its own for a bench: a data folder that goes again, served as `make demo` serves."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).parents[1]


@contextmanager
def served(**environment: str) -> Iterator[str]:
    """Give the address of a server; it is warm when its first answer has come."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        port = s.getsockname()[1]
    address = f"http://127.0.0.1:{port}"
    with tempfile.TemporaryDirectory() as data:
        around = {**os.environ, "KAGERO_DATA": data, **environment}
        subprocess.run([sys.executable, "manage.py", "migrate", "-v0"], cwd=ROOT, env=around, check=True)
        server = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "gunicorn",
                "-c",
                "python:kagero.server.settings.serving",
                "kagero.server.settings.wsgi",
                "-b",
                f"127.0.0.1:{port}",
            ],
            cwd=ROOT,
            env=around,
        )
        try:
            for _ in range(300):
                try:
                    urllib.request.urlopen(f"{address}/api/effects", timeout=5).read()
                    break
                except OSError:
                    time.sleep(0.1)
            yield address
        finally:
            server.terminate()
            server.wait()
