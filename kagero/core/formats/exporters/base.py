"""The base of exporters: file formats into which frames are written in order."""

from __future__ import annotations

import inspect
import json
import zipfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from importlib import import_module
from pathlib import Path
from typing import IO, Any, ClassVar, Literal

import numpy as np

from ...errors import RequestError

OLD = (1980, 1, 1, 0, 0, 0)  # every file in a zip carries the same date, so that equal effects give equal files


@dataclass(frozen=True)
class StoredColumn:
    """A column of particle files.

    name: in files. kind: its type, little-endian. parts: names of its components; empty: one number. unit: symbol of
    the stored unit (metres, seconds, radians; none for colours in linear light).
    """

    name: str
    kind: str
    parts: tuple[str, ...] = ()
    unit: str = ""


@dataclass(frozen=True)
class FrameParticles:
    """All particles of all emitters at one frame; arrays by the names of the stored columns, (n,) or (n, parts)."""

    number: int
    seconds: float
    arrays: dict[str, np.ndarray]

    def __len__(self) -> int:
        return len(self.arrays["key"])


@dataclass(frozen=True)
class FramePicture:
    """A frame's picture, (height, width, 4) float32: linear light, premultiplied by alpha. passes: requested passes by
    name, (height, width, channels) float32. names: for passes with hashed names, the names by hash."""

    number: int
    seconds: float
    pixels: np.ndarray
    passes: dict[str, np.ndarray] = field(default_factory=dict)
    names: dict[str, dict[str, str]] = field(default_factory=dict)


@dataclass(frozen=True)
class Option:
    """An option of a format. default: also determines its kind: a boolean, a whole number, one of the choices, or
    several (a tuple). choices: values with their words. lowest, highest: of numbers. unit: its symbol."""

    name: str
    label: str
    help: str
    default: bool | int | str | tuple[str, ...]
    choices: tuple[tuple[str, str], ...] = ()
    lowest: int = 0
    highest: int = 0
    unit: str = ""

    @property
    def kind(self) -> str:
        return (
            "tick"
            if isinstance(self.default, bool)
            else "whole"
            if isinstance(self.default, int)
            else "several"
            if isinstance(self.default, tuple)
            else "choice"
        )

    def wrong(self, value: Any) -> str:
        """Return why a value is not allowed, or an empty string."""
        if self.kind == "tick":
            return "" if isinstance(value, bool) else "is yes or no"
        if self.kind == "whole":
            fits = isinstance(value, int) and not isinstance(value, bool) and self.lowest <= value <= self.highest
            return "" if fits else f"is a whole number from {self.lowest} to {self.highest}"
        values = [each for each, _ in self.choices]
        if self.kind == "choice":
            return "" if not values or value in values else "is one of " + ", ".join(values)
        fits = isinstance(value, (list, tuple)) and all(
            isinstance(each, str) and (not values or each in values) for each in value
        )
        return "" if fits else "holds some of " + ", ".join(values)


def read_options(options: Iterable[Option], given: dict[str, Any]) -> dict[str, Any]:
    """Return every option's value, defaults included. Raises RequestError for an unknown option or a value that is not
    allowed."""
    known = {option.name: option for option in options}
    for name, value in given.items():
        if name not in known:
            raise RequestError(
                f"This format has no option {name!r}.",
                where=f"options.{name}",
                remedy="It has " + (", ".join(known) or "none") + ".",
            )
        if why := known[name].wrong(value):
            raise RequestError(f"{known[name].label} {why}.", where=f"options.{name}", remedy="Choose another.")
    return {
        name: tuple(given[name]) if option.kind == "several" and name in given else given.get(name, option.default)
        for name, option in known.items()
    }


BEHIND = Option(
    "behind",
    "Behind all",
    "Nothing, so that alpha tells what is covered, or what the frame says stands behind all.",
    "nothing",
    (("nothing", "nothing: with alpha"), ("frame", "what stands there")),
)
SIMULATED = Option(
    "simulated",
    "Also as simulated",
    "Where particles were before they were shaped, beside where they are shown.",
    False,
)
OPAQUE = Option(
    "behind", "Behind all", "What the frame says stands behind all.", "frame", (("frame", "what stands there"),)
)


@dataclass(frozen=True)
class ExportDetails:
    """What is exported: the effect's name, frames first..last, frames a second (an exact fraction), each emitter's uid
    and name, the columns of its particles, and the pictures' size in pixels. scratch: a folder for temporary files.
    options: of the format, by name."""

    effect: str
    first: int
    last: int
    frame_rate: tuple[int, int]
    emitters: tuple[tuple[str, str], ...]
    columns: tuple[StoredColumn, ...] = ()
    size: tuple[int, int] = (0, 0)
    scratch: Path | None = None
    options: dict[str, Any] = field(default_factory=dict)

    def manifest(self, kind: str) -> dict[str, Any]:
        """Return the facts of an export for its readers, as plain data (docs/FORMATS.md)."""
        manifest: dict[str, Any] = {
            "format": kind,
            "effect": self.effect,
            "first": self.first,
            "last": self.last,
            "frame_rate": list(self.frame_rate),
            "emitters": [{"uid": uid, "name": name} for uid, name in self.emitters],
        }
        if self.columns:
            manifest["columns"] = [
                {"name": c.name, "type": c.kind, "parts": list(c.parts), "unit": c.unit} for c in self.columns
            ]
        if self.size != (0, 0):
            manifest |= {"width": self.size[0], "height": self.size[1]}
        return manifest


class Exporter:
    """A format. kind: its name in the API and on the command line. label, help: its words. suffix: of its files. media:
    their type. takes: what its frames are. options: its options."""

    kind: ClassVar[str] = ""
    label: ClassVar[str]
    help: ClassVar[str]
    suffix: ClassVar[str]
    media: ClassVar[str] = "application/octet-stream"
    takes: ClassVar[Literal["particles", "pictures"]] = "particles"
    options: ClassVar[tuple[Option, ...]] = ()
    colour: ClassVar[str] = ""  # of pictures: what their numbers are, in words

    def passes(self) -> tuple[str, ...]:
        """Return the names of the passes it needs besides the picture."""
        return ()

    def fits(self) -> None:
        """Raise RequestError where it cannot hold the export."""

    def remarks(self) -> list[str]:
        """Return remarks about the written file."""
        return []

    def __init__(self, about: ExportDetails):
        self.about = about

    def open(self, stream: IO[bytes]) -> None:
        """Start writing into a file."""
        raise NotImplementedError

    def frame(self, frame: Any) -> None:
        """Write one frame (FrameParticles or FramePicture, as `takes` says); frames come in order."""
        raise NotImplementedError

    def finish(self) -> None:
        """Write the end of the file. The caller closes the stream."""

    def abandon(self) -> None:
        """Release resources where writing ends early."""


class FileExporter(Exporter):
    """A format in which all frames are one file."""

    stream: IO[bytes]

    def open(self, stream: IO[bytes]) -> None:
        self.stream = stream


class Sequence(Exporter):
    """A format with one file for each frame, in a zip or a folder, and a manifest. ending: of each file. packed: worth
    compressing."""

    ending: ClassVar[str]
    packed: ClassVar[bool] = True
    media = "application/zip"

    def open(self, stream: IO[bytes]) -> None:
        archive = zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=1)
        self._close = archive.close

        def put(name: str, data: bytes, packed: bool) -> None:
            archive.writestr(zipfile.ZipInfo(name, OLD), data, zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED)

        self._put: Callable[[str, bytes, bool], None] = put

    def manifest(self) -> dict[str, Any]:
        """Return the manifest, as plain data."""
        manifest = self.about.manifest(self.kind)
        return {**manifest, "colour": self.colour} if self.colour else manifest

    def into(self, put: Callable[[str, bytes], None]) -> None:
        """Pass each file on, by name, instead of writing a zip."""
        self._put = lambda name, data, packed: put(name, data)
        self._close = lambda: None

    def frame(self, frame: Any) -> None:
        self._put(f"{frame.number:06d}{self.ending}", self.bytes_of(frame), self.packed)

    def bytes_of(self, frame: Any) -> bytes:
        """Return a frame's file."""
        raise NotImplementedError

    def abandon(self) -> None:
        self._close()

    def finish(self) -> None:
        self._put("manifest.json", (json.dumps(self.manifest(), indent=1) + "\n").encode(), True)
        self._close()


def folder_in_place(folder: Path, notify: Callable[[Path], None] = lambda path: None) -> Callable[[str, bytes], None]:
    """Return a function that writes a sequence's files into a folder, which is created. notify: called with each
    path."""
    folder.mkdir(parents=True, exist_ok=True)

    def put(name: str, data: bytes) -> None:
        path = folder / name
        path.write_bytes(data)
        notify(path)

    return put


class Exporters(dict[str, type[Exporter]]):
    """The formats, by kind."""

    def load(self, package: str, *modules: str) -> None:
        """Register the exporters of a package's modules, in order. Raises TypeError for a module without one."""
        for module in modules:
            loaded = import_module(f"{package}.{module}")
            found = [
                each
                for _, each in inspect.getmembers(loaded, inspect.isclass)
                if issubclass(each, Exporter) and each.__module__ == loaded.__name__ and each.kind
            ]
            if not found:
                raise TypeError(f"{package}.{module} defines no exporter")
            self.update({each.kind: each for each in found})

    @contextmanager
    def also(self, exporter: type[Exporter]) -> Iterator[None]:
        """Register one more within the context. For tests."""
        self[exporter.kind] = exporter
        try:
            yield
        finally:
            del self[exporter.kind]


EXPORTERS = Exporters()
