"""What nobody needs any more goes: half-written files, old exports and cards, files that no effect refers to,
effects that were deleted long ago. At the start and once an hour."""

from __future__ import annotations

from django.conf import settings
from django.db import close_old_connections

from ..library import disk, files, shelves
from . import exports

EVERY = 3600  # seconds


def sweep(*, starting: bool = False) -> list[str]:
    """Do it once; return the names of the half-written files that were removed. starting: nothing is under way in this
    process."""
    try:
        if starting:
            exports.tidy()
        exports.expire()
        shelves.expire()
        files.review()
        disk.older(settings.DATA_DIR / "cards", settings.KEEP_DAYS)
        return disk.sweep(settings.DATA_DIR, starting=starting)
    finally:
        close_old_connections()
