"""Write everything that is kept (effects with all their edits, files of props, accounts, finished exports) into one
zip, while Kagero is in use."""

from __future__ import annotations

import sqlite3
import tempfile
import zipfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

LEFT_OUT = ("cards", "server.lock")  # made again by itself


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("target", type=Path, help="a zip to write")

    def handle(self, *args: Any, **options: Any) -> None:
        target: Path = options["target"]
        part = target.with_name(target.name + ".part")
        folder: Path = settings.DATA_DIR
        base = Path(settings.DATABASES["default"]["NAME"])
        with (
            tempfile.TemporaryDirectory() as name,
            zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive,
        ):
            copy = Path(name) / base.name
            source, kept = sqlite3.connect(base), sqlite3.connect(copy)
            with kept:
                source.backup(kept)  # whole and as of one moment, whoever is writing
            source.close()
            kept.close()
            archive.write(copy, base.name)
            for path in sorted(folder.rglob("*")):
                inside = path.relative_to(folder)
                if (
                    path.is_file()
                    and inside.parts[0] not in LEFT_OUT
                    and not path.name.endswith(".part")
                    and ".sqlite3" not in path.name
                ):
                    archive.write(path, str(inside))
        part.replace(target)
        self.stdout.write(f"{target}: {target.stat().st_size / 1e6:.1f} MB")
