"""Files that were brought in, kept by content: read in a process of their own, with limits on its time and memory."""

from __future__ import annotations

import json
import re
import zipfile
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.db import transaction
from django.db.models import Exists, F, OuterRef, Subquery
from django.utils import timezone

from kagero.core.errors import Finding, GeometryProblem
from kagero.core.formats.importing import arrays_of, check_name, content_hash, from_arrays, mesh_sequence
from kagero.core.geometry import ImportedGeometry, Mesh
from kagero.core.memory import PROCESS

from .disk import atomic_write
from .models import Edit, File, Use
from .readers import READERS

contents = PROCESS.region("files", 3.0)
SECONDS, MEMORY = 120, 4 * 1024**3
MOST_BYTES = 256 * 1024 * 1024


def _folder() -> Any:
    folder = settings.DATA_DIR / "props"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def import_file(name: str, data: bytes) -> dict[str, Any]:
    """Keep a file and return its facts with its content hash; one that is here already is not read again. Raises
    GeometryProblem."""
    check_name(name)
    if not data:
        raise GeometryProblem(f"{name[:80]} is empty.", remedy="Export it again.")
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Make it smaller."
        )
    content = content_hash(data)
    folder = _folder()
    facts, arrays = folder / f"{content}.json", folder / f"{content}.npz"
    if not (facts.exists() and arrays.exists()):
        with (
            atomic_write(folder / content) as source,
            atomic_write(arrays) as target,
        ):  # the file itself, as it was, and what it holds
            source.write_bytes(data)
            found = _read(name, str(source), str(target))
        with atomic_write(facts) as part:
            part.write_text(json.dumps(found))
    _note(content, name, len(data))
    return {**json.loads(facts.read_text()), "content": content, "name": name, "bytes": len(data)}


def _note(content: str, name: str, size: int) -> None:
    """Note that a file is here; from now on it may be unused for a while."""
    now = None if Use.objects.filter(content=content).exists() else timezone.now()
    new = {"name": name, "bytes": size, "brought": timezone.now(), "unused": now}
    File.objects.update_or_create(content=content, defaults={"unused": now}, create_defaults=new)


def _read(name: str, source: str, result: str) -> dict[str, Any]:
    code, answer = READERS.read(name, source, result, SECONDS, MEMORY)
    if code == 0:
        return answer
    if code == 2:
        raise GeometryProblem("", findings=[Finding(**finding) for finding in answer["findings"]])
    raise GeometryProblem(f"{name[:80]} took too much time or memory to read.", remedy="Make it smaller.")


def join(contents: list[str], rate: float) -> dict[str, Any]:
    """Keep numbered meshes, by their contents in order, as one mesh that moves; return its facts. Raises
    GeometryProblem."""
    found = [content(each) for each in contents]
    if not all(isinstance(each, Mesh) and len(each.faces) for each in found):
        raise GeometryProblem("A sequence is made of meshes.", remedy="Choose meshes of one kind, numbered in order.")
    result = mesh_sequence(found, rate)  # type: ignore[arg-type]
    name = content_hash(f"{rate} {contents}".encode())
    described = {
        **(facts(contents[0]) or {}),
        "moves": True,
        "seconds": float(result.times[-1]) if result.times is not None else 0.0,
    }
    with atomic_write(_folder() / f"{name}.npz") as part, part.open("wb") as stream:
        np.savez(stream, **arrays_of(result))  # type: ignore[arg-type]
    with atomic_write(_folder() / f"{name}.json") as part:
        part.write_text(json.dumps(described))
    title = f"{len(contents)} meshes"
    _note(name, title, (_folder() / f"{name}.npz").stat().st_size)
    return {**described, "content": name, "name": title, "bytes": 0}


def content(content: str) -> ImportedGeometry:
    """Return what a kept file holds. Raises GeometryProblem when it is not here."""
    found: ImportedGeometry | None = contents.get(content)
    if found is not None:
        return found
    path = _path(content, ".npz")
    if not path.exists():
        raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")
    try:
        with np.load(path, allow_pickle=False) as arrays:
            return contents.put(content, from_arrays({name: arrays[name] for name in arrays.files}))
    except (ValueError, KeyError, EOFError, zipfile.BadZipFile) as problem:
        raise GeometryProblem(
            "A file of this effect is damaged on the server's disk.", remedy="Bring it in again."
        ) from problem


def _path(content: str, suffix: str = "") -> Path:
    """Return where a file is kept. Raises GeometryProblem for what is no content hash: nothing else of the disk can be
    named."""
    if not re.fullmatch("[0-9a-f]{32}", content):
        raise GeometryProblem(
            f"{content[:40]!r} is no file that was brought in.",
            remedy="Bring it in, and use the content that comes back.",
        )
    return _folder() / f"{content}{suffix}"


def missing(contents: list[str]) -> list[str]:
    """Return which of some files are not here. Raises GeometryProblem for what is no content hash."""
    return [each for each in dict.fromkeys(contents) if not _path(each, ".npz").exists()]


def facts(content: str) -> dict[str, Any] | None:
    path = _path(content, ".json")
    return json.loads(path.read_text()) if path.exists() else None


def described(content: str) -> dict[str, Any]:
    """Return a kept file's facts with its content, name and bytes. Raises GeometryProblem when it is not here."""
    found, file = facts(content), File.objects.filter(pk=content).first()
    if found is None or file is None:
        raise GeometryProblem("This file is not here.", remedy="Bring it in again.")
    return {**found, "content": content, "name": file.name, "bytes": file.bytes}


# keeping
# ----------------------------------------------------------------------------------------------------------------
def review() -> None:
    """Note which files no effect refers to any more, and remove those that none referred to for KEEP_DAYS."""
    with transaction.atomic():
        oldest = Edit.objects.filter(effect=OuterRef("effect")).order_by("number").values("number")[:1]
        Use.objects.annotate(oldest=Subquery(oldest)).filter(
            last__lt=F("oldest")
        ).delete()  # its last edit with the file was given up
        used = Use.objects.filter(content=OuterRef("pk"))
        File.objects.filter(Exists(used)).update(unused=None)
        File.objects.filter(~Exists(used), unused=None).update(unused=timezone.now())
    for file in File.objects.filter(unused__lt=timezone.now() - timedelta(days=settings.KEEP_DAYS)):
        remove(file.pk)


def remove(content: str) -> bool:
    """Remove a file that no effect refers to; return whether it is gone."""
    with transaction.atomic():
        if Use.objects.filter(content=content).exists() or not File.objects.filter(pk=content).delete()[0]:
            return False
    for suffix in ("", ".npz", ".json"):
        (_folder() / f"{content}{suffix}").unlink(missing_ok=True)
    return True


def keep_longer(content: str) -> None:
    """Let a file that no effect refers to stay KEEP_DAYS from now."""
    File.objects.filter(pk=content, unused__isnull=False).update(unused=timezone.now())


def unused() -> list[File]:
    """Return the files that no effect refers to, each with `goes`, when it will be removed."""
    found = list(File.objects.filter(unused__isnull=False))
    for file in found:
        file.goes = file.unused + timedelta(days=settings.KEEP_DAYS)
    return found
