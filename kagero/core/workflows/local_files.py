"""Files of an effect's props in a folder or a zip beside it, found by their content."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from functools import lru_cache, partial
from pathlib import Path

import numpy as np

from ..formats.importing import content_hash, from_arrays, import_file
from ..geometry import ImportedGeometry
from ..staging import Content, no_content

LARGEST = 256 * 1024 * 1024  # bytes of a file that is looked into


def files_beside(where: Path) -> Content:
    """Return a function that gives contents by hash from the files of a folder or a zip. A file is identified by its
    bytes, whatever its name; CONTENT.npz is the form in which a data folder stores it. Raises OSError for a missing
    folder or file."""
    if where.is_dir():
        return _content(
            {
                str(path): path.read_bytes
                for path in sorted(where.rglob("*"))
                if path.is_file() and path.stat().st_size <= LARGEST
            }
        )
    with zipfile.ZipFile(where) as archive:
        sizes = {each.filename: each.file_size for each in archive.infolist()}

    def unpacked(name: str) -> bytes:
        with zipfile.ZipFile(where) as archive:
            return archive.read(name)

    return _content({name: partial(unpacked, name) for name, size in sizes.items() if 0 < size <= LARGEST})


def _content(files: dict[str, Callable[[], bytes]]) -> Content:
    hashed: dict[str, str] = {}

    def find(content: str) -> str | None:
        for name in sorted(files, key=lambda name: Path(name).name != content):
            if name not in hashed and not name.endswith(".npz"):
                hashed[name] = content_hash(files[name]())
                if hashed[name] == content:
                    break
        return next((name for name, known in hashed.items() if known == content), None)

    @lru_cache(maxsize=64)
    def give(content: str) -> ImportedGeometry:
        kept_as = next((name for name in files if Path(name).name == f"{content}.npz"), None)
        if kept_as is not None:
            with np.load(io.BytesIO(files[kept_as]()), allow_pickle=False) as arrays:
                return from_arrays({name: arrays[name] for name in arrays.files})
        name = find(content)
        if name is None:
            return no_content(content)
        return from_arrays(import_file(Path(name).name, files[name]())[0])

    return give
