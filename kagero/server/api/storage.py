"""What is kept on disk besides effects: files, exports; what will go, and how to keep it."""

from __future__ import annotations

import shutil
from datetime import datetime
from typing import Any

from django.conf import settings
from django.db.models import Sum
from django.http import HttpRequest
from ninja import Router, Schema

from ..jobs.models import Export
from ..library import disk, files
from ..library.drafts import Missing
from ..library.models import File
from .dependencies import PROBLEMS

router = Router()


class Unused(Schema):
    """A file that no effect refers to. goes: when it will be removed."""

    content: str
    name: str
    bytes: int
    goes: datetime


class Storage(Schema):
    """What is kept besides effects, in bytes, and what will go. trouble: why nothing can be kept, in words."""

    files: int
    files_bytes: int
    exports: int
    exports_bytes: int
    free_bytes: int
    unused: list[Unused]
    trouble: str


@router.get("storage", response={200: Storage, **PROBLEMS})
def storage(request: HttpRequest) -> Any:
    done = [job.bytes for job in Export.objects.filter(state=Export.State.DONE)]
    return {
        "files": File.objects.count(),
        "files_bytes": File.objects.aggregate(sum=Sum("bytes"))["sum"] or 0,
        "exports": len(done),
        "exports_bytes": sum(done),
        "free_bytes": shutil.disk_usage(settings.DATA_DIR).free,
        "unused": files.unused(),
        "trouble": disk.disk_problem(),
    }


@router.delete("storage/files/{content}", response={204: None, **PROBLEMS})
def remove_file(request: HttpRequest, content: str) -> Any:
    """Remove a file that no effect refers to."""
    if not files.remove(content):
        raise Missing("This file, unused,")
    return 204, None


@router.post("storage/files/{content}/keep", response={204: None, **PROBLEMS})
def keep_file(request: HttpRequest, content: str) -> Any:
    """Let a file that no effect refers to stay for as long again from now."""
    files.keep_longer(content)
    return 204, None
