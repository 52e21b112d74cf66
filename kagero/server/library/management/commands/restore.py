"""Bring a backup back into an empty data folder (KAGERO_DATA); an older Kagero's is brought up to date."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("source", type=Path, help="a zip that `backup` wrote")

    def handle(self, *args: Any, **options: Any) -> None:
        folder: Path = settings.DATA_DIR
        if folder.is_dir() and any(path.name != "secret" for path in folder.iterdir()):
            raise CommandError(f"The data folder {folder} is not empty: nothing is overwritten. Set KAGERO_DATA to a new one.")
        try:
            with zipfile.ZipFile(options["source"]) as archive:
                if "kagero.sqlite3" not in archive.namelist():
                    raise CommandError("This zip is no backup of Kagero.")
                folder.mkdir(parents=True, exist_ok=True)
                archive.extractall(folder)
        except (OSError, zipfile.BadZipFile) as problem:
            raise CommandError(f"The backup cannot be read or written here: {problem}.") from problem
        (folder / "secret").chmod(0o600) if (folder / "secret").exists() else None
        call_command("migrate", verbosity=0)
        self.stdout.write(f"restored into {folder}")
