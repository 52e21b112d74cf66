"""Put the demo's effects into the library, those that are not there yet."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from kagero.core.document import read_effect
from kagero.server.library import files
from kagero.server.library.drafts import create
from kagero.server.library.models import Effect

FOLDER = "The Lantern Ferry"


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        known = set(Effect.objects.values_list("name", flat=True))
        missing = [
            path
            for path in sorted(settings.DEMO_DIR.glob("*.json"))
            if json.loads(path.read_text())["name"] not in known
        ]
        for path in sorted((settings.DEMO_DIR.parent / "props").glob("*.*")) if missing else ():
            files.import_file(path.name, path.read_bytes())
        for number, path in enumerate(missing):
            document = read_effect(path.read_bytes())
            create(document, "Demo loaded", FOLDER)
            self.stdout.write(f"demo: {number + 1} of {len(missing)}, {document.name}")
