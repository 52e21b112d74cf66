"""Write the API's OpenAPI document, from which the client's types are generated (`npm run types`)."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        from kagero.server.api.routes import api

        path = settings.BASE_DIR / "client" / "src" / "wire" / "openapi.json"
        path.write_text(json.dumps(api.get_openapi_schema(), indent=1, default=str) + "\n")
        self.stdout.write(str(path.relative_to(settings.BASE_DIR)))
