"""The data folder: whether it can be written to, files that appear whole or not at all, and what was left half
written."""

from __future__ import annotations

import fcntl
import os
import re
import secrets
import shutil
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from django.conf import settings

STALE = 24 * 3600  # seconds after which a half-written file is nobody's any more
LOW_SPACE = 200 * 1024 * 1024  # bytes free below which it is said


@contextmanager
def atomic_write(target: Path) -> Iterator[Path]:
    """Give a path to write to that becomes `target` in the end; after an error nothing is left. Raises OSError."""
    target.parent.mkdir(parents=True, exist_ok=True)
    part = target.with_name(
        f"{target.name}.{os.getpid()}-{secrets.token_hex(4)}.part"
    )  # two processes may write the same at once
    try:
        yield part
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)


class Served(Exception):
    """Another server keeps its data in this folder. The words name it."""


def claim_folder(address: str) -> IO[str]:
    """Take the data folder for a server at an address, until the file that is returned is closed by all processes that
    have it. Raises Served.

    Command lines take nothing: they may read and write beside a server."""
    lock = (settings.DATA_DIR / "server.lock").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        lock.seek(0)
        holder = lock.read().strip() or "another process"
        lock.close()
        raise Served(
            f"The data folder {settings.DATA_DIR} is served already, by {holder}. Stop it, or give another folder "
            "with --data."
        ) from None
    lock.seek(0)
    lock.truncate()
    lock.write(f"process {os.getpid()} at {address}\n")
    lock.flush()
    return lock


def sweep(folder: Path, *, starting: bool = False) -> list[str]:
    """Remove half-written files of processes that are gone, and return their names. starting: nothing of this process
    is under way."""
    gone = []
    for part in folder.rglob("*.part") if folder.is_dir() else ():
        owner = re.search(r"\.(\d+)-[0-9a-f]+\.part$", part.name)
        try:
            stale = time.time() - part.stat().st_mtime > STALE
        except FileNotFoundError:
            continue
        if stale or (owner and not _process_lives(int(owner[1]))) or (owner is None and starting):
            part.unlink(missing_ok=True)
            gone.append(part.name)
    return gone


def older(folder: Path, days: float) -> int:
    """Remove files that were written so many days ago, of a folder whose files are made again when they are asked for;
    return how many."""
    before, gone = time.time() - days * 24 * 3600, 0
    for path in folder.iterdir() if folder.is_dir() else ():
        if path.stat().st_mtime < before:
            path.unlink(missing_ok=True)
            gone += 1
    return gone


def _process_lives(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def disk_problem() -> str:
    """Return in words why nothing could be kept in the data folder, or soon not; empty when all is well."""
    folder: Path = settings.DATA_DIR
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder) as probe:
            probe.write(b"1")
            probe.flush()
    except OSError as problem:
        return (
            f"The data folder {folder} cannot be written to ({problem.strerror}): nothing would be kept. Set "
            "KAGERO_DATA, or its permissions."
        )
    free = shutil.disk_usage(folder).free
    if free < LOW_SPACE:
        return (
            f"Only {free // 1024 // 1024} MB are free where the data folder {folder} is. Make room, or edits will not "
            "be kept."
        )
    return ""
