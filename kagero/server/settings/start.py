"""Starts Kagero in one process: the data folder is brought up to date, the demo loaded where it is asked for, then it
serves."""

from __future__ import annotations

import os
import socket
import sys
import time
from typing import Any

from gunicorn.app.base import BaseApplication

from . import serving


class Server(BaseApplication):
    """Gunicorn with the settings of `serving`, in this process and one that it forks, with what this one has loaded."""

    def __init__(self, bind: str):
        self._bind = bind
        super().__init__()

    def load_config(self) -> None:
        for name in (
            "worker_class",
            "workers",
            "threads",
            "graceful_timeout",
            "control_socket_disable",
            "loglevel",
            "logconfig_dict",
            "post_worker_init",
        ):
            self.cfg.set(name, getattr(serving, name))
        self.cfg.set("bind", self._bind)
        self.cfg.set("preload_app", True)
        self.cfg.set("when_ready", self._tell)

    def load(self) -> Any:
        from .wsgi import application

        return application

    def _tell(self, arbiter: Any) -> None:
        print(f"Kagero: http://{self._bind.replace('127.0.0.1', 'localhost')}", flush=True)


def serve(host: str, port: int, demo: bool, open_page: bool) -> int:
    """Serve until the process is stopped; return an exit code."""
    started = time.monotonic()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
    os.environ["KAGERO_PORT"] = str(port)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as problem:
            print(
                f"Kagero: port {port} of {host} cannot be used ({problem.strerror}). Give another one with --port.",
                file=sys.stderr,
            )
            return 1
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connections

    django.setup()
    from kagero.server.library.disk import Served, claim_folder, disk_problem
    from kagero.server.library.readers import READERS

    if words := disk_problem():
        print(f"Kagero: {words}", file=sys.stderr)
        return 1
    if not (settings.CLIENT_DIR / "index.html").exists():
        print(
            f"Kagero: the page is not built ({settings.CLIENT_DIR}). Run `make demo`, which builds it.", file=sys.stderr
        )
        return 1
    try:
        kept = claim_folder(f"http://{host}:{port}")
    except Served as problem:
        print(f"Kagero: {problem}", file=sys.stderr)
        return 1
    call_command("migrate", verbosity=0)
    if demo:
        call_command("load_demo")
    READERS.end()
    connections.close_all()  # the process that serves opens its own
    print(
        f"Kagero: ready to serve after {time.monotonic() - started:.1f} s; what is kept stands in {settings.DATA_DIR}",
        flush=True,
    )
    if open_page:
        _open(f"http://localhost:{port}")
    with kept:
        Server(f"{host}:{port}").run()
    return 0


def _open(address: str) -> None:
    """Open the page in the person's browser as soon as it is served."""
    import threading
    import webbrowser

    threading.Timer(1.0, webbrowser.open, [address]).start()
