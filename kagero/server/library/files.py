"""Files that were brought in, kept by content: read in a process of their own, with limits on its time and memory."""

from __future__ import annotations

import hashlib
import json
import os
import resource
import secrets
import subprocess
import sys
from functools import lru_cache
from typing import Any

import numpy as np
from django.conf import settings

from kagero.core.errors import Finding, GeometryProblem
from kagero.core.formats.bring import arrays_of, kept, sequence
from kagero.core.formats.svg import Drawing
from kagero.core.props import Mesh, Picture

SECONDS, MEMORY = 120, 4 * 1024**3
MOST_BYTES = 256 * 1024 * 1024


def _folder() -> Any:
    folder = settings.DATA_DIR / "props"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def bring(name: str, data: bytes) -> dict[str, Any]:
    """Keep a file and return its facts with its content hash; one that is here already is not read again. Raises GeometryProblem."""
    if not data:
        raise GeometryProblem(f"{name[:80]} is empty.", remedy="Export it again.")
    if len(data) > MOST_BYTES:
        raise GeometryProblem(f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Make it smaller.")
    content = hashlib.blake2b(data, digest_size=16).hexdigest()
    folder = _folder()
    facts, arrays = folder / f"{content}.json", folder / f"{content}.npz"
    if not (facts.exists() and arrays.exists()):
        part = folder / f"{content}-{secrets.token_hex(4)}"
        source, made = part.with_suffix(".part"), part.with_suffix(".npz")
        source.write_bytes(data)
        try:
            found = _read(name, str(source), str(made))
            made.replace(arrays)
            source.replace(folder / content)  # the file itself, as it was
            facts.write_text(json.dumps(found))
        finally:
            for left in (source, made):
                left.unlink(missing_ok=True)
    return {**json.loads(facts.read_text()), "content": content, "name": name[:200], "bytes": len(data)}


def _read(name: str, source: str, made: str) -> dict[str, Any]:
    def limit() -> None:
        resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
        resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS + 5))
        resource.setrlimit(resource.RLIMIT_FSIZE, (MEMORY, MEMORY))
        os.nice(5)

    too_much = GeometryProblem(f"{name[:80]} took too much time or memory to read.", remedy="Make it smaller.")
    try:
        ran = subprocess.run(
            [sys.executable, "-m", "kagero.core.formats.bring", name[:200], source, made],
            capture_output=True, timeout=SECONDS + 30, cwd=settings.BASE_DIR, preexec_fn=limit, check=False,
            env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        raise too_much from None
    try:
        said = json.loads(ran.stdout.decode().strip().splitlines()[-1])
    except (ValueError, IndexError):
        raise too_much from None
    if ran.returncode:
        raise GeometryProblem("", findings=[Finding(**finding) for finding in said["findings"]])
    return said  # type: ignore[no-any-return]


def join(contents: list[str], rate: float) -> dict[str, Any]:
    """Keep numbered meshes, by their contents in order, as one mesh that moves; return its facts. Raises GeometryProblem."""
    found = [content(each) for each in contents]
    if not all(isinstance(each, Mesh) and len(each.faces) for each in found):
        raise GeometryProblem("A sequence is made of meshes.", remedy="Choose meshes of one kind, numbered in order.")
    made = sequence(found, rate)  # type: ignore[arg-type]
    name = hashlib.blake2b(f"{rate} {contents}".encode(), digest_size=16).hexdigest()
    said = {**(facts(contents[0]) or {}), "moves": True, "seconds": float(made.times[-1]) if made.times is not None else 0.0}
    part = _folder() / f"{name}-{secrets.token_hex(4)}.npz"
    np.savez(part, **arrays_of(made))  # type: ignore[arg-type]
    part.replace(_folder() / f"{name}.npz")
    (_folder() / f"{name}.json").write_text(json.dumps(said))
    return {**said, "content": name, "name": f"{len(contents)} meshes", "bytes": 0}


@lru_cache(maxsize=24)
def content(content: str) -> Mesh | Picture | Drawing:
    """Return what a kept file holds. Raises GeometryProblem when it is not here."""
    path = _folder() / f"{content}.npz"
    if not path.exists():
        raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")
    with np.load(path) as arrays:
        return kept({name: arrays[name] for name in arrays.files})


def facts(content: str) -> dict[str, Any] | None:
    path = _folder() / f"{content}.json"
    return json.loads(path.read_text()) if path.exists() else None
