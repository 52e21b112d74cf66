"""Compilation and storage of kernels: Numba compiles each at its first call, once for each text of it and of everything
it calls.

`kernel` replaces Numba's own decorator and differs in two points.

First, a declared signature is compiled at the first call, not when its module is imported: an import compiles nothing,
and a process compiles only what it needs.

Second, compiled code is stored in a folder of the user's cache, one file for each kernel and signature. The file's name
is a hash of everything the machine code depends on: the text of the kernel's module and of every module of this package
that it imports, directly or not, its options and signature, the processor, and the versions of Python, Numba, llvmlite
and NumPy. So an edited kernel recompiles its callers, and a copy of the source elsewhere recompiles nothing. Files are
written whole and then renamed; the least recently used are removed above a limit. A kernel that another process is
compiling is waited for.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import pickle
import platform
import re
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from functools import lru_cache
from inspect import signature
from pathlib import Path
from typing import IO, Any

import llvmlite
import numba
import numpy as np
from llvmlite import binding
from numba.core import serialize, sigutils, types
from numba.core.caching import NullCache
from numba.core.compiler import CompileResult
from numba.core.compiler_lock import global_compiler_lock
from numba.core.errors import TypingError
from numba.core.registry import CPUDispatcher
from numba.core.typing.templates import Signature
from platformdirs import user_cache_path

SOURCES = Path(__file__).parent
MOST_BYTES = 512 << 20  # of compiled kernels that are kept
FORMAT = 1  # of the files; another one where this module compiles otherwise than before
MOST_SECONDS = 120.0  # that another process is waited for which compiles the same
_IMPORTED = re.compile(r"^from \.{1,2}(\w*) import ([^\n(]*)", re.MULTILINE)
_DAY = 86_400.0


def folder() -> Path:
    """Return the folder of compiled kernels: KAGERO_KERNELS, or `kagero/kernels` in the user's cache."""
    return (
        Path(found)
        if (found := os.environ.get("KAGERO_KERNELS"))
        else user_cache_path("kagero", appauthor=False) / "kernels"
    )


def reachable_modules(module: str, sources: Path = SOURCES) -> list[str]:
    """Return the names of the modules of this package that a module imports, directly or not, and its own, in order.
    A package within this one counts as one module. This module is left out, since no machine code depends on it."""
    found, ahead = {module}, [module]
    while ahead:
        text = "\n".join(path.read_text() for path in _files(sources, ahead.pop()))
        for name, names in _IMPORTED.findall(text):
            for each in [name] if name else [part.split()[0] for part in names.split(",")]:
                if each not in found and each != "compiled" and _files(sources, each):
                    found.add(each)
                    ahead.append(each)
    return sorted(found)


def _files(sources: Path, module: str) -> list[Path]:
    """Return the files of a module or of a package of modules; none where there is neither."""
    whole = sources / f"{module}.py"
    return [whole] if whole.exists() else sorted((sources / module).glob("*.py"))


@lru_cache(maxsize=256)
def stamp(module: str, sources: Path = SOURCES) -> str:
    """Return a hash of the text of a module and of all it imports, with the versions of the compilers."""
    versions = (
        FORMAT,
        sys.version_info[:2],
        numba.__version__,
        llvmlite.__version__,
        np.__version__,
        platform.machine(),
    )
    digest = hashlib.sha256(repr(versions).encode())
    for name in reachable_modules(module, sources):
        for path in _files(sources, name):
            digest.update(f"{name} {path.stem}".encode() + b"\0" + path.read_bytes() + b"\0")
    return digest.hexdigest()


@lru_cache(maxsize=1)
def stamp_of_all() -> str:
    """Return 16 hexadecimal digits of a hash of every kernel's text, the versions of the compilers, and the
    processor."""
    names = sorted(path.stem for path in SOURCES.glob("*.py"))
    digest = hashlib.sha256(repr((binding.get_host_cpu_name(), *map(stamp, names))).encode())
    return digest.hexdigest()[:16]


class KernelCache(NullCache):
    """The files of one kernel, one for each signature. A damaged file is compiled anew; where the folder cannot be
    written, nothing is stored."""

    def __init__(self, function: Callable[..., Any], options: dict[str, Any]):
        self._name = function.__name__
        settings = sorted((name, sorted(value) if isinstance(value, set) else value) for name, value in options.items())
        source = Path(function.__code__.co_filename)
        within = source.parent.parent == SOURCES  # of a package within this one
        text = stamp(source.parent.name, SOURCES) if within else stamp(source.stem, source.parent)
        self._about = f"{text} {source.stem} {function.__qualname__} {settings}"
        self._locks: dict[Path, IO[bytes]] = {}  # of what this process is compiling

    def _path(self, signature: Any, codegen: Any) -> Path:
        name = hashlib.sha256(f"{self._about} {signature} {codegen.magic_tuple()}".encode()).hexdigest()[:32]
        return folder() / f"{self._name}-{name}.kernel"

    def load_overload(self, signature: Any, target_context: Any) -> Any:
        """Return the compiled code for a signature, or None. After None the caller compiles it, and other processes
        that ask wait for the result."""
        target_context.refresh()
        path = self._path(signature, target_context.codegen())
        if (found := self._read(path, target_context)) is not None:
            return found
        with suppress(OSError):  # where nothing can be written, each process compiles for itself
            path.parent.mkdir(parents=True, exist_ok=True)
            self._locks[path] = lock = path.with_suffix(".lock").open("wb")
            until = time.monotonic() + MOST_SECONDS
            while time.monotonic() < until:
                try:
                    fcntl.flock(
                        lock, fcntl.LOCK_EX | fcntl.LOCK_NB
                    )  # let go of by the system, if the process ends that has it
                    break
                except BlockingIOError:
                    time.sleep(0.02)
            found = self._read(path, target_context)  # another process may have compiled it meanwhile
        return found

    @staticmethod
    def _read(path: Path, target_context: Any) -> Any:
        try:
            content = path.read_bytes()
            if hashlib.sha256(content[32:]).digest() != content[:32]:
                return None
            if time.time() - path.stat().st_mtime > _DAY:
                os.utime(path)
            return CompileResult._rebuild(target_context, *pickle.loads(content[32:]))
        except Exception:  # a file that is not there, is half of one, or was kept by another build of Numba
            return None

    def save_overload(self, signature: Any, compiled: Any) -> None:
        """Store the compiled code for a signature."""
        content = serialize.dumps(compiled._reduce())
        path = self._path(signature, compiled.codegen)
        with suppress(OSError):
            path.parent.mkdir(parents=True, exist_ok=True)
            with tempfile.NamedTemporaryFile(dir=path.parent, prefix=".", delete=False) as stream:
                stream.write(hashlib.sha256(content).digest() + content)
            Path(stream.name).replace(path)
            prune(path.parent)

    def release(self) -> None:
        """Let the processes continue that wait for this one's compilation, whether it succeeded or not."""
        while self._locks:
            path, lock = self._locks.popitem()
            with lock, suppress(OSError):
                path.with_suffix(".lock").unlink(missing_ok=True)  # whoever opened it before has it all the same
                fcntl.flock(lock, fcntl.LOCK_UN)  # also for a child that has it open too


def prune(where: Path, most: int = MOST_BYTES) -> None:
    """Remove the least recently used kernels of a folder until at most `most` bytes are left, and unfinished files
    older than a day."""
    kept, whole = [], 0
    for path in where.iterdir():
        with suppress(OSError):  # another process removed it
            status = path.stat()
            if path.suffix == ".kernel":
                kept.append((status.st_mtime, status.st_size, path))
                whole += status.st_size
            elif path.name.startswith(".") and time.time() - status.st_mtime > _DAY:
                path.unlink()
    for _, size, path in sorted(kept):
        if whole <= most:
            return
        path.unlink(missing_ok=True)
        whole -= size


class Kernel(CPUDispatcher):
    """A compiled function of arrays that releases Python's global lock while it runs.

    signatures: the declared argument types in Numba's notation, each compiled when first needed; none: compiled for
    whatever it is called with. Arguments that fit no signature exactly are converted as Numba does. writes: names of
    the arrays it writes into; all others are treated as read-only, so that writable and read-only arrays share one
    machine code.
    """

    overloads: Any  # of Numba's dispatcher, which says no types
    _insert: Any
    _can_compile: bool

    def __init__(
        self,
        py_func: Callable[..., Any],
        locals: Any = None,
        targetoptions: Any = None,
        signatures: tuple[str, ...] = (),
        writes: str | None = None,
    ):
        super().__init__(py_func, locals, targetoptions)
        self._cache = KernelCache(py_func, self.targetoptions)
        self._signatures = signatures
        self._writes = None if writes is None else [name in writes.split() for name in signature(py_func).parameters]
        _all.append(self)

    @property
    def declared(self) -> list[Signature]:
        """The declared signatures; empty: any."""
        return [_signature(text) for text in self._signatures]

    def compile(self, sig: Any) -> Any:
        with global_compiler_lock:
            try:
                return self._compile(sig)
            finally:
                self._cache.release()

    def _compile(self, sig: Any) -> Any:
        arguments, _ = sigutils.normalize_signature(sig)
        if self._writes is not None:
            wanted = tuple(
                each.copy(readonly=True) if isinstance(each, types.Array) and not written else each
                for each, written in zip(arguments, self._writes, strict=True)
            )
            entry = super().compile(wanted)
            self._insert(
                [each._code for each in arguments], entry, False
            )  # found at once the next time, without a conversion
            return entry
        if (known := self.overloads.get(tuple(arguments))) is not None:
            return known.entry_point
        if not self._signatures:
            return super().compile(sig)
        fits = next((each for each in self.declared if each.args == tuple(arguments)), None)
        if fits is not None:
            return super().compile(fits)
        # From now on arguments are converted to a declared signature. Another thread may have got here first: its call
        # missed at the same time and held the lock while this one waited.
        self.compile_declared()
        found = self.typingctx.resolve_overload(
            self.py_func, self.nopython_signatures, tuple(arguments), {}, allow_ambiguous=False
        )
        if found is None:
            raise TypingError(f"{self.py_func.__name__} has no signature for {', '.join(map(str, arguments))}.")
        return self.overloads[tuple(found.args)].entry_point

    def compile_declared(self) -> None:
        """Compile every declared signature, and allow no others."""
        with global_compiler_lock:
            if self._can_compile:
                for each in self.declared:
                    super().compile(each)
                    self._cache.release()
                self.disable_compile()


_all: list[Kernel] = []


def kernels() -> Iterator[Kernel]:
    """Yield every kernel of the imported modules."""
    yield from _all


@lru_cache(maxsize=1024)
def _signature(text: str) -> Signature:
    arguments, returned = sigutils.normalize_signature(text)
    return Signature(returned, arguments, None)


def kernel(*signatures: str, writes: str | None = None, **options: Any) -> Callable[[Callable[..., Any]], Any]:
    """Return a decorator that makes a `Kernel` of a function. options: Numba's, such as `error_model`, `fastmath` or
    `_nrt`."""
    targetoptions = {"nopython": True, "nogil": True, "boundscheck": None, **options}
    return lambda function: Kernel(function, None, targetoptions, signatures, writes)
