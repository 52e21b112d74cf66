"""The WSGI application that gunicorn serves."""

import os
import sys

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kagero.server.settings")
application = get_wsgi_application()

from django.conf import settings  # noqa: E402

from kagero.server.library.disk import disk_problem  # noqa: E402
from kagero.server.people.rules import first_link  # noqa: E402

if words := disk_problem():
    print(f"Kagero: {words}", file=sys.stderr, flush=True)
elif settings.NETWORK and (link := first_link()):
    port = (
        "" if settings.TLS else f":{os.environ['KAGERO_PORT']}" if "KAGERO_PORT" in os.environ else ""
    )  # with TLS a proxy stands at the usual one
    address = f"{'https' if settings.TLS else 'http'}://{settings.ALLOWED_HOSTS[-1]}{port}"
    print(f"Kagero: make the first account at {address}{link}", file=sys.stderr, flush=True)
