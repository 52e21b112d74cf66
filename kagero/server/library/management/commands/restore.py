"""Bring a backup back into an empty data folder (KAGERO_DATA); an older Kagero's is brought up to date."""

from __future__ import annotations

import sqlite3
import tempfile
import zipfile
import zlib
from contextlib import closing
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError


def sound(base: Path) -> None:
    """Raise sqlite3.DatabaseError for a database that is damaged."""
    with closing(sqlite3.connect(base)) as opened:
        words = opened.execute("PRAGMA integrity_check").fetchone()[0]
    if words != "ok":
        raise sqlite3.DatabaseError(f"its database is damaged ({words[:80]})")


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("source", type=Path, help="a zip that `backup` wrote")

    def handle(self, *args: Any, **options: Any) -> None:
        folder: Path = settings.DATA_DIR
        if folder.is_dir() and any(path.name != "secret" for path in folder.iterdir()):
            raise CommandError(
                f"The data folder {folder} is not empty: nothing is overwritten. Set KAGERO_DATA to a new one."
            )
        try:
            with zipfile.ZipFile(options["source"]) as archive:
                if "kagero.sqlite3" not in archive.namelist():
                    raise CommandError("This zip is no backup of Kagero.")
                folder.parent.mkdir(parents=True, exist_ok=True)
                with tempfile.TemporaryDirectory(dir=folder.parent, prefix=".restoring-") as name:
                    archive.extractall(name)  # whole, and with every checksum, before any of it stands in the folder
                    sound(Path(name) / "kagero.sqlite3")
                    folder.mkdir(exist_ok=True)
                    for path in Path(name).iterdir():
                        path.replace(folder / path.name)
        except (OSError, EOFError, zlib.error, zipfile.BadZipFile, sqlite3.DatabaseError) as problem:
            raise CommandError(
                f"The backup cannot be read, or not be written here: {problem}. Nothing was restored."
            ) from problem
        (folder / "secret").chmod(0o600) if (folder / "secret").exists() else None
        call_command("migrate", verbosity=0)
        self.stdout.write(f"restored into {folder}")
