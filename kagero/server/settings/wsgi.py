"""The WSGI application that gunicorn serves."""

import gc
import os
import sys
import threading
import time

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
application = get_wsgi_application()

from django.conf import settings  # noqa: E402

from kagero.server.library.disk import trouble  # noqa: E402
from kagero.server.people.rules import first_link  # noqa: E402


def _warm() -> None:
    """Play each demo effect once, so that the first artist waits for no compiler; then keep house, as long as the server runs."""
    from kagero.core.document import read_effect
    from kagero.server.frames import card
    from kagero.server.jobs import keeping

    keeping.sweep(starting=True)
    for path in settings.DEMO_DIR.glob("*.json"):
        card(read_effect(path.read_bytes()))
    gc.collect()
    gc.freeze()  # what stays for good is not looked through again at every edit
    while True:
        time.sleep(keeping.EVERY)
        keeping.sweep()


if words := trouble():
    print(f"Kagero: {words}", file=sys.stderr, flush=True)
elif settings.NETWORK and (link := first_link()):
    address = f"{'https' if settings.TLS else 'http'}://{settings.ALLOWED_HOSTS[-1]}"
    print(f"Kagero: make the first account at {address}{link}", file=sys.stderr, flush=True)
threading.Thread(target=_warm, name="warm", daemon=True).start()
