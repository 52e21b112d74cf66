"""Exports run one at a time behind the requests; what a stopped server left unfinished is marked so."""

from __future__ import annotations

import re
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from django.conf import settings
from django.db import close_old_connections

from kagero.core.effect import read_effect
from kagero.core.errors import Cancelled, KageroError, RequestError
from kagero.core.picture import check_size
from kagero.core.workflows import FORMATS, Playing, bake, span

from ..library.drafts import Missing
from ..library.models import Effect
from .models import Export

State = Export.State
_pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="export")
_stops: dict[int, threading.Event] = {}


class Unfinished(KageroError):
    code = "unfinished"


def start(effect: Effect, kind: str, first: int, last: int, size: tuple[int, int], document: dict) -> Export:
    """Queue an export of a document of this effect; return the job. Raises EffectError, RequestError when it cannot work."""
    if kind not in FORMATS:
        raise RequestError(f"There is no format {kind!r}.", where="kind", remedy="Choose one of " + ", ".join(FORMATS) + ".")
    parsed = read_effect(document)
    span(Playing(parsed), first, last)
    check_size(*size)
    job = Export.objects.create(effect=effect, document=parsed.model_dump(mode="json"), kind=kind, first=first, last=last,
                                width=size[0], height=size[1], total=last - first + 1)  # fmt: skip
    _stops[job.pk] = threading.Event()
    _pool.submit(_run, job.pk)
    return job


def find(job_id: int) -> Export:
    job = Export.objects.filter(pk=job_id).first()
    if job is None:
        raise Missing("This export")
    return job


def cancel(job_id: int) -> Export:
    """Ask a job to stop; a finished one stays as it is."""
    job = find(job_id)
    if job_id in _stops:
        _stops[job_id].set()
    Export.objects.filter(pk=job_id, state=State.WAITING).update(state=State.CANCELLED)
    job.refresh_from_db()
    return job


def result(job_id: int) -> tuple[Path, str, str]:
    """Return the file, its media type and the name to save it under. Raises Unfinished, Missing."""
    job = find(job_id)
    path = settings.DATA_DIR / "exports" / job.file
    if job.state != State.DONE:
        raise Unfinished("This export is not finished.", remedy="Wait for it, or start it again.")
    if not path.is_file():
        raise Missing("The file of this export")
    kind = FORMATS[job.kind]
    plain = re.sub(r"[^a-z0-9]+", "-", job.document["name"].lower()).strip("-") or "effect"
    return path, kind.media, f"{plain}-{job.first}-{job.last}{kind.suffix}"


def tidy() -> None:
    """Mark as failed what an earlier server process left waiting or running."""
    left = Export.objects.filter(state__in=[State.WAITING, State.RUNNING]).exclude(pk__in=list(_stops))
    left.update(state=State.FAILED, message="The server stopped before this was finished. Start the export again.")


def _run(job_id: int) -> None:
    close_old_connections()
    try:
        if not Export.objects.filter(pk=job_id, state=State.WAITING).update(state=State.RUNNING):
            return
        job = find(job_id)
        name = f"{job_id}{FORMATS[job.kind].suffix}"
        told = time.monotonic()

        def progress(done: int, total: int) -> None:
            nonlocal told
            if time.monotonic() - told > 0.2 or done == total:
                told = time.monotonic()
                Export.objects.filter(pk=job_id).update(done=done, total=total)

        def stopped() -> None:
            if _stops[job_id].is_set():
                raise Cancelled()

        bake(Playing(read_effect(job.document)), job.kind, job.first, job.last, settings.DATA_DIR / "exports" / name,
             size=(job.width, job.height), progress=progress, stopped=stopped)  # fmt: skip
        Export.objects.filter(pk=job_id).update(state=State.DONE, file=name, done=job.total)
    except Cancelled:
        Export.objects.filter(pk=job_id).update(state=State.CANCELLED)
    except KageroError as problem:
        Export.objects.filter(pk=job_id).update(state=State.FAILED, message=str(problem))
    except OSError as problem:
        Export.objects.filter(pk=job_id).update(state=State.FAILED, message=f"The file could not be written: {problem.strerror}.")
    except Exception:
        Export.objects.filter(pk=job_id).update(state=State.FAILED, message="This export failed; the server's log says more.")
        raise
    finally:
        _stops.pop(job_id, None)
        close_old_connections()
