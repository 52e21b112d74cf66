"""The WSGI application that gunicorn serves."""

import gc
import os
import threading

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
application = get_wsgi_application()


def _warm() -> None:
    """Play each demo effect once, so that the first artist waits for no compiler; mark exports an earlier server left."""
    from django.conf import settings

    from kagero.core.effect import read_effect
    from kagero.server.frames import card
    from kagero.server.jobs import exports

    exports.tidy()
    for path in settings.DEMO_DIR.glob("*.json"):
        card(read_effect(path.read_bytes()))
    gc.collect()
    gc.freeze()  # what stays for good is not looked through again at every edit


threading.Thread(target=_warm, name="warm", daemon=True).start()
