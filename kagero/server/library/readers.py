"""Processes that read what people bring in: each file in a child of one that is warm, so that a fault in it ends
nothing else."""

from __future__ import annotations

import contextlib
import json
import logging
import os
import select
import signal
import subprocess
import sys
import threading
from typing import Any

from django.conf import settings

log = logging.getLogger("kagero")
IDLE = 2  # readers kept for the next file
GRACE = 30  # seconds beyond the processor's time that a file may take, for a machine that is busy


class Readers:
    """Starts readers when they are needed and keeps some: the first file waits for what a reader loads, those after it
    do not."""

    def __init__(self) -> None:
        self._idle: list[subprocess.Popen[str]] = []
        self._lock = threading.Lock()

    def read(self, name: str, source: str, target: str, seconds: int, memory: int) -> tuple[int, Any]:
        """Return what `formats.importing.read` does, in that time and memory (bytes); code -1 where it did not come to
        its end."""
        for reader in self._taken():
            try:
                assert reader.stdin is not None and reader.stdout is not None
                print(json.dumps([name, source, target, seconds, memory]), file=reader.stdin, flush=True)
                answer = (
                    reader.stdout.readline() if select.select([reader.stdout], [], [], seconds + GRACE)[0] else None
                )
            except OSError:  # it has ended since
                answer = ""
            if answer:
                with self._lock:
                    self._idle.append(reader)
                    over = self._idle[:-IDLE]
                    del self._idle[:-IDLE]
                for each in over:
                    _end(each)
                code, message = json.loads(answer)
                if code not in (0, 2):
                    log.warning("reading %s did not come to its end", name)
                return code, message
            _end(reader)
            if answer is None:
                log.warning("reading %s took longer than %s s", name, seconds + GRACE)
                break
        return -1, None

    def end(self) -> None:
        """End those that are idle: a process that is forked must not share them."""
        with self._lock:
            idle, self._idle = self._idle, []
        for reader in idle:
            _end(reader)

    def _taken(self) -> Any:
        """Yield readers to try: those that are idle, which may have ended since, then a new one."""
        while True:
            with self._lock:
                reader = self._idle.pop() if self._idle else None
            if reader is None:
                break
            yield reader
        yield subprocess.Popen(
            [sys.executable, "-m", "kagero.core.formats.importing"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            cwd=settings.BASE_DIR,
            start_new_session=True,
            env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
        )


def _end(reader: subprocess.Popen[str]) -> None:
    """End a reader and the child at work in it."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(reader.pid, signal.SIGKILL)
    for stream in (reader.stdin, reader.stdout):
        if stream is not None:
            with contextlib.suppress(OSError):  # what it was not told any more
                stream.close()
    reader.wait()


READERS = Readers()
