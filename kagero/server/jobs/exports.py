"""Exports run one at a time behind the requests; what a stopped server left unfinished is marked so."""

from __future__ import annotations

import logging
import re
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from datetime import timedelta
from functools import partial
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import DatabaseError, close_old_connections, transaction
from django.db.models import Q
from django.db.models.signals import post_delete
from django.dispatch import receiver
from django.utils import timezone

from kagero.core.document import read_effect
from kagero.core.errors import Cancelled, KageroError
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.work_limits import Work, while_wanted
from kagero.core.workflows import Estimate, Playing, ReplacedNumbers, bake, estimate, exporter_of

from ..library import files
from ..library.drafts import Missing
from ..library.models import Effect
from .models import Export

State = Export.State
_pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="export")
_stops: dict[int, threading.Event] = {}
_unsaved: dict[int, dict[str, Any]] = {}  # how exports ended that could not be written down, the disk being full
_log = logging.getLogger("kagero.exports")


class Unfinished(KageroError):
    code = "unfinished"


def start(
    effect: Effect,
    kind: str,
    first: int,
    last: int,
    size: tuple[int, int],
    document: dict[str, Any],
    options: dict[str, Any] | None = None,
) -> Export:
    """Queue an export of a document of this effect; return the job. Raises EffectError, RequestError when it cannot
    work."""
    parsed = read_effect(document)
    exporter_of(Playing(parsed.whole()), kind, first, last, size, None, options)
    job = Export.objects.create(
        effect=effect,
        document=parsed.model_dump(mode="json"),
        kind=kind,
        first=first,
        last=last,
        width=size[0],
        height=size[1],
        total=last - first + 1,
        options=options or {},
    )
    _stops[job.pk] = threading.Event()
    _pool.submit(_run, job.pk)
    return job


def estimated(
    kind: str, first: int, last: int, size: tuple[int, int], document: dict[str, Any], options: dict[str, Any]
) -> Estimate:
    """Return what an export will be. Raises as `start`."""
    return estimate(Playing(read_effect(document).whole(), None, files.content), kind, first, last, size, options)


def find(job_id: int) -> Export:
    """Return a job as it is now, also where its end could not be written down yet. Raises Missing."""
    if job_id in _unsaved:
        _settle(job_id, **_unsaved[job_id])
    job = Export.objects.filter(pk=job_id).first()
    if job is None:
        raise Missing("This export")
    for name, value in _unsaved.get(job_id, {}).items():
        setattr(job, name, value)
    return job


def _settle(job_id: int, **fields: Any) -> int:
    """Write down of a job how it is; return whether it is there still. What cannot be written is kept, and tried again
    when it is asked for."""
    try:
        found = Export.objects.filter(pk=job_id).update(**fields)
    except DatabaseError:
        _log.warning("How export %s ended could not be written down; it is tried again.", job_id, exc_info=True)
        _unsaved[job_id] = fields
        return 1
    _unsaved.pop(job_id, None)
    return found


def of_effect(effect_id: int) -> list[Export]:
    """Return the exports of an effect whose files are here, the newest first."""
    return [job for job in Export.objects.filter(effect_id=effect_id, state=State.DONE) if job.bytes]


def cancel(job_id: int) -> Export:
    """Ask a job to stop; a finished one stays as it is."""
    find(job_id)
    if job_id in _stops:
        _stops[job_id].set()
        Export.objects.filter(pk=job_id, state=State.WAITING).update(state=State.CANCELLED)
    elif job_id not in _unsaved:  # nothing works on it
        Export.objects.filter(pk=job_id, state__in=[State.WAITING, State.RUNNING]).update(state=State.CANCELLED)
    return find(job_id)


def result(job_id: int) -> tuple[Path, str, str]:
    """Return the file, its media type and the name to save it under. Raises Unfinished, Missing."""
    job = find(job_id)
    path = job.path
    if job.state != State.DONE:
        raise Unfinished("This export is not finished.", remedy="Wait for it, or start it again.")
    if not path.is_file():
        raise Missing("The file of this export")
    kind = EXPORTERS[job.kind]
    plain = re.sub(r"[^a-z0-9]+", "-", job.document["name"].lower()).strip("-") or "effect"
    return path, kind.media, f"{plain}-{job.first}-{job.last}{kind.suffix}"


def tidy() -> None:
    """Mark as failed what an earlier server process left waiting or running."""
    left = Export.objects.filter(state__in=[State.WAITING, State.RUNNING]).exclude(pk__in=list(_stops))
    left.update(state=State.FAILED, message="The server stopped before this was finished. Start the export again.")


def expire() -> None:
    """Remove exports that were finished KEEP_EXPORTS_DAYS ago, and those that came to nothing as long ago."""
    before = timezone.now() - timedelta(days=settings.KEEP_EXPORTS_DAYS)
    for job in Export.objects.filter(Q(finished__lt=before) | Q(finished=None, created__lt=before)).exclude(
        pk__in=list(_stops)
    ):
        job.delete()


def drop(effect_id: int) -> None:
    """Remove an effect's exports: those under way stop, and no file is left. The effect may be taken back; they are
    made anew then."""
    for job in Export.objects.filter(effect_id=effect_id):
        job.delete()


@receiver(post_delete, sender=Export)
def _gone(instance: Export, **_: Any) -> None:
    """An export that is deleted, by itself or with its effect, stops and leaves no file."""
    _unsaved.pop(instance.pk, None)
    stop = _stops.get(instance.pk)
    if stop is not None:
        stop.set()  # what it has written goes when it ends
    transaction.on_commit(partial(instance.path.unlink, missing_ok=True))


def _run(job_id: int) -> None:
    close_old_connections()
    try:
        if not Export.objects.filter(pk=job_id, state=State.WAITING).update(state=State.RUNNING):
            return
        job = find(job_id)
        reported = time.monotonic()

        def progress(done: int, total: int) -> None:
            nonlocal reported
            if time.monotonic() - reported > 0.2 or done == total:
                reported = time.monotonic()
                with suppress(DatabaseError):  # the disk may be full: then writing the file says so
                    Export.objects.filter(pk=job_id).update(done=done, total=total)

        def stopped() -> None:
            if _stops[job_id].is_set():
                raise Cancelled()

        playing = Playing(read_effect(job.document).whole(), None, files.content)
        playing.replaced = ReplacedNumbers()
        with while_wanted(Work(stopped)):
            remarks: list[str] = []
            bake(
                playing,
                job.kind,
                job.first,
                job.last,
                job.path,
                options=job.options,
                remarks=remarks,
                size=(job.width, job.height),
                progress=progress,
                stopped=stopped,
            )
        found = (*playing.lacking(), *playing.replaced.findings(playing.effect))
        amiss = "\n".join([*remarks, *(f"{f.message} {f.remedy}" for f in found)])
        done = {
            "state": State.DONE,
            "file": job.path.name,
            "done": job.total,
            "finished": timezone.now(),
            "message": amiss,
        }
        if not _settle(job_id, **done):
            job.path.unlink(missing_ok=True)  # deleted just now
    except Cancelled:
        _settle(job_id, state=State.CANCELLED)
    except KageroError as problem:
        _settle(job_id, state=State.FAILED, message=str(problem))
    except OSError as problem:
        _log.exception("Export %s could not be written.", job_id)
        _settle(
            job_id,
            state=State.FAILED,
            message=f"The file could not be written: {problem.strerror}. Make room, then start it again.",
        )
    except Exception:
        _log.exception("Export %s failed.", job_id)
        _settle(job_id, state=State.FAILED, message="This export failed; the server's log says more.")
    finally:
        _stops.pop(job_id, None)
        close_old_connections()
