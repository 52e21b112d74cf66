"""How gunicorn serves: one process, many threads, and patience that ends with clients that neither send nor take.

`gunicorn -c python:kagero.server.settings.serving kagero.server.settings.wsgi`, with --bind.
"""

from __future__ import annotations

import gc
import logging
import os
import threading
import time
from contextlib import suppress
from typing import Any

from kagero.server.connections.logs import logging_of


def on_starting(server: Any) -> None:
    """Take the data folder, where gunicorn is started by itself; two servers on one would take each other's exports for
    left ones."""
    import django

    from kagero.server.library.disk import Served, claim_folder

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
    os.environ.setdefault("KAGERO_PORT", server.cfg.bind[0].rpartition(":")[2])
    django.setup()
    try:
        server.kagero_folder = claim_folder(", ".join(server.cfg.bind))
    except Served as problem:
        raise SystemExit(f"Kagero: {problem}") from None


def post_worker_init(worker: Any) -> None:
    """Begin, in the process that serves, what goes on beside serving."""
    from kagero.server.frames import WARMING

    WARMING.announce()
    threading.Thread(target=_beside, name="beside", daemon=True).start()


def _beside() -> None:
    """Compile what is not compiled yet, make the cards of the demo's effects, and keep house as long as the server
    runs."""
    from django.conf import settings

    from kagero.core.document import read_effect
    from kagero.core.errors import KageroError
    from kagero.server.frames import WARMING, card
    from kagero.server.jobs import cleanup

    def look_through_kept(starting: bool = False) -> None:
        try:
            cleanup.sweep(starting=starting)
        except Exception:  # the disk may be full, the database locked: what is kept is looked through again in a while
            logging.getLogger("kagero").exception("What is kept besides effects could not be looked through.")

    look_through_kept(starting=True)
    WARMING.compile()
    for path in sorted(settings.DEMO_DIR.glob("*.json")):
        with suppress(KageroError, OSError):  # what is wrong with one is said where it is opened
            card(read_effect(path.read_bytes()))
    gc.collect()
    gc.freeze()  # what stays for good is not looked through again at every edit
    while True:
        time.sleep(cleanup.EVERY)
        look_through_kept()


worker_class = "kagero.server.connections.worker.PatientWorker"
workers = 1
threads = int(os.environ.get("KAGERO_THREADS", 256))
graceful_timeout = 3
control_socket_disable = True
loglevel = "warning"
logconfig_dict = logging_of(("gunicorn.error",))
