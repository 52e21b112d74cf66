"""What is kept on disk besides effects: files, exports; what will go, and how to keep it."""

from __future__ import annotations

import shutil
from typing import Any

from django.conf import settings
from django.db.models import Sum
from django.http import HttpRequest
from ninja import Router

from ..jobs.models import Export
from ..library import disk, files
from ..library.drafts import Missing
from ..library.models import File
from . import schemas
from .asked import PROBLEMS

router = Router()


@router.get("storage", response=schemas.Storage)
def storage(request: HttpRequest) -> Any:
    done = [job.bytes for job in Export.objects.filter(state=Export.State.DONE)]
    return {
        "files": File.objects.count(), "files_bytes": File.objects.aggregate(sum=Sum("bytes"))["sum"] or 0, "exports": len(done),
        "exports_bytes": sum(done), "free_bytes": shutil.disk_usage(settings.DATA_DIR).free, "unused": files.unused(), "trouble": disk.trouble(),
    }  # fmt: skip


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
