"""Put the demo's effects into the library, those that are not there yet."""

from __future__ import annotations

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
        for path in sorted((settings.DEMO_DIR.parent / "props").glob("*.*")):
            files.bring(path.name, path.read_bytes())
        for path in sorted(settings.DEMO_DIR.glob("*.json")):
            document = read_effect(path.read_bytes())
            if not Effect.objects.filter(name=document.name).exists():
                create(document, "Demo loaded", FOLDER)
                self.stdout.write(f"loaded {document.name}")
