"""Kernels are compiled when they are first called, once for each text of them and of all that they call."""

from __future__ import annotations

import ast
import os
import subprocess
import sys
import tempfile
import textwrap
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
from numba import types
from numba.core.compiler_lock import global_compiler_lock
from numba.core.errors import TypingError

from kagero.core.kernels import compiled, curves
from kagero.core.kernels.compiled import kernel
from kagero.core.workflows.ready import compile_tasks

CALLEE = """
from __future__ import annotations
from .compiled import kernel
@kernel()
def twice(x):
    return 2.0 * x
"""
CALLER = """
from __future__ import annotations
from .callee import twice
from .compiled import kernel
@kernel("float64(float64)")
def four_times(x):
    return twice(twice(x))
"""
ALONE = """
from .compiled import kernel
@kernel()
def halved(x):
    return x / 2.0
"""
CALL = """
from package.kernels.caller import four_times
from package.kernels.alone import halved
import sys
started = list(four_times.signatures)
answers = four_times(3.0), halved(3.0)
print(answers, started, sum(four_times._cache_misses.values()), sum(halved._cache_misses.values()))
"""


class Kept(unittest.TestCase):
    """A package of three kernels, run in processes of its own."""

    def setUp(self) -> None:
        self.root = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.cache = self.root / "cache"
        self.package(self.root / "here")

    def package(self, where: Path, callee: str = CALLEE) -> Path:
        folder = where / "package" / "kernels"
        folder.mkdir(parents=True, exist_ok=True)
        for name, text in (("__init__", ""), ("callee", callee), ("caller", CALLER), ("alone", ALONE)):
            (folder / f"{name}.py").write_text(text)
        (where / "package" / "__init__.py").touch()
        (folder / "compiled.py").write_bytes(Path(compiled.__file__).read_bytes())
        return where

    def run_in(self, where: Path) -> str:
        """Return the answers, the signatures that an import compiled, and how often each of two kernels was
        compiled."""
        env = {**os.environ, "KAGERO_KERNELS": str(self.cache), "PYTHONDONTWRITEBYTECODE": "1"}
        return subprocess.run(
            [sys.executable, "-c", CALL], cwd=where, env=env, check=True, capture_output=True, text=True
        ).stdout.strip()

    def test_what_was_compiled_serves_any_copy_and_an_edited_callee_compiles_its_callers_anew(self):
        here = self.root / "here"
        self.assertEqual(self.run_in(here), "(12.0, 1.5) [] 1 1")
        self.assertEqual(self.run_in(here), "(12.0, 1.5) [] 0 0")
        elsewhere = self.package(self.root / "another folder" / "deeper")
        for path in elsewhere.rglob("*.py"):
            os.utime(path, (1_000_000_000, 1_000_000_000))
        self.assertEqual(self.run_in(elsewhere), "(12.0, 1.5) [] 0 0")
        self.package(here, CALLEE.replace("2.0 * x", "3.0 * x"))
        self.assertEqual(self.run_in(here), "(27.0, 1.5) [] 1 0")
        self.assertEqual(self.run_in(elsewhere), "(12.0, 1.5) [] 0 0")  # two checkouts share the folder

    def test_a_damaged_file_is_compiled_anew_and_where_nothing_can_be_written_everything_works(self):
        here = self.root / "here"
        self.run_in(here)

        def flipped(content: bytes) -> bytes:
            at = content.index(b"ELF") + 1000  # within the machine code, which can be read all the same
            return content[:at] + bytes([content[at] ^ 1]) + content[at + 1 :]

        for damage in (lambda content: content[:-7], flipped):
            for path in self.cache.glob("four_times-*.kernel"):
                path.write_bytes(damage(path.read_bytes()))
            self.assertEqual(self.run_in(here), "(12.0, 1.5) [] 1 0")
        self.assertEqual(self.run_in(here), "(12.0, 1.5) [] 0 0")
        self.cache = self.root / "a file"
        self.cache.touch()
        self.assertEqual(self.run_in(here), "(12.0, 1.5) [] 1 1")

    def test_of_processes_that_begin_together_one_compiles_and_the_others_wait(self):
        here, env = (
            self.root / "here",
            {**os.environ, "KAGERO_KERNELS": str(self.cache), "PYTHONDONTWRITEBYTECODE": "1"},
        )
        begun = [
            subprocess.Popen([sys.executable, "-c", CALL], cwd=here, env=env, stdout=subprocess.PIPE, text=True)
            for _ in range(3)
        ]
        answers = [process.communicate()[0].split() for process in begun]
        self.assertEqual([each[:2] for each in answers], [["(12.0,", "1.5)"]] * 3)
        self.assertEqual([sum(int(each[k]) for each in answers) for k in (3, 4)], [1, 1])
        self.assertEqual(list(self.cache.glob("*.lock")), [])


class Bounded(unittest.TestCase):
    def test_the_least_recently_used_go_first(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for age, letter in enumerate("abcd"):
                (folder / f"{letter}.kernel").write_bytes(b"x" * 100)
                os.utime(folder / f"{letter}.kernel", (1e9 - age, 1e9 - age))
            (folder / ".half").touch()
            os.utime(folder / ".half", (1e9, 1e9))
            compiled.prune(folder, 250)
            self.assertEqual(sorted(path.name for path in folder.iterdir()), ["a.kernel", "b.kernel"])


class Reached(unittest.TestCase):
    def test_the_modules_that_a_kernel_reaches_are_those_of_its_imports(self):
        """Against Python's own parser, wherever an import stands and however it is laid out."""
        found: dict[str, set[str]] = {}
        for path in compiled.SOURCES.glob("**/*.py"):
            within = path.parent != compiled.SOURCES  # of a package, which counts as one module
            imports = [
                each
                for each in ast.walk(ast.parse(path.read_text()))
                if isinstance(each, ast.ImportFrom) and each.level
            ]
            self.assertTrue(all(each.level == 1 + within for each in imports), path.name)
            found.setdefault(path.parent.name if within else path.stem, set()).update(
                name
                for each in imports
                for name in ([each.module] if each.module else [alias.name for alias in each.names])
            )
        for name in found:
            reached, ahead = {name}, [name]
            while ahead:
                new = found[ahead.pop()] - reached - {"compiled"}
                reached |= new
                ahead += new
            self.assertEqual(compiled.reachable_modules(name), sorted(reached), name)


class Called(unittest.TestCase):
    def test_arrays_that_may_be_written_and_arrays_that_may_not_share_their_machine_code(self):
        @kernel(writes="out")
        def added(a, out):
            for i in range(a.size):
                out[i] += a[i]

        fixed, free, out = np.ones(3), np.ones(3), np.zeros(3)
        fixed.flags.writeable = False
        added(free, out)
        added(fixed, out)
        np.testing.assert_array_equal(out, [2.0, 2.0, 2.0])
        self.assertEqual(len(added.signatures), 1)
        with self.assertRaisesRegex(TypingError, "[Cc]annot modify readonly array"):
            added(free, fixed)

        @kernel(writes="out")
        def wrong(a, out):
            a[0] = out[0]

        with self.assertRaisesRegex(TypingError, "[Cc]annot modify readonly array"):
            wrong(free, out)

    def test_of_several_signatures_only_those_that_are_needed_are_compiled_and_no_others_ever(self):
        @kernel("float32(float32[::1])", "float64(float64[::1])")
        def first(a):
            return a[0]

        self.assertEqual(first.signatures, [])
        self.assertEqual(first(np.ones(1)), 1.0)
        self.assertEqual(len(first.signatures), 1)
        for wrong in (np.ones(1, np.int32), np.ones((1, 1)), np.ones(4)[::2]):
            with self.assertRaises(TypeError if len(first.signatures) == 2 else TypingError):
                first(wrong)
        self.assertEqual(first(np.full(1, 2, np.float32)), 2.0)
        self.assertEqual(len(first.signatures), 2)

    def test_numbers_are_converted_as_they_are_by_a_signature_that_is_compiled_at_once(self):
        @kernel("float64(float64, int64)")
        def power(x, n):
            return x**n

        for x, n in ((2, 3), (np.float32(2), np.int32(3)), (2.0, True)):
            self.assertEqual(power(x, n), 2.0**n)
        self.assertEqual(len(power.signatures), 1)

    def test_a_call_that_waited_while_another_thread_compiled_is_answered(self):
        """Both calls miss at once; the second waits for the lock and then finds that no more is to be compiled."""

        @kernel("float64(float64, int64)")
        def power(x, n):
            return x**n

        arguments = (types.int64, types.int32)
        with global_compiler_lock:
            late = ThreadPoolExecutor(1).submit(power.compile, arguments)
            first = power.compile(arguments)
        self.assertEqual(late.result(), first)

    def test_a_module_that_is_imported_compiles_nothing(self):
        text = (
            "from kagero.core.kernels import compiled, drawing, contacts, noise; print([k for k in compiled.kernels() "
            "if k.signatures])"
        )
        message = subprocess.run([sys.executable, "-c", text], check=True, capture_output=True, text=True).stdout
        self.assertEqual(message.strip(), "[]")
        self.assertTrue(curves.curve_into.declared)


class Ready(unittest.TestCase):
    def test_no_kernel_is_left_that_an_effect_would_wait_for(self):
        """But those that others call, into which they are compiled."""
        text = """
            from kagero.core.kernels import compiled
            from kagero.core.workflows.ready import compile_tasks
            for half in compile_tasks():
                for task in half:
                    task.run()
            functions = [k.py_func for k in compiled.kernels()]
            within = {id(f.__globals__.get(name)) for f in functions for name in f.__code__.co_names}
            within |= {id(cell.cell_contents) for f in functions for cell in f.__closure__ or ()}
            called = [k for k in compiled.kernels() if id(k) not in within]
            print(len(called), [k.py_func.__name__ for k in called if len(k.signatures) < max(1, len(k.declared))])
        """
        message = subprocess.run(
            [sys.executable, "-c", textwrap.dedent(text)], check=True, capture_output=True, text=True
        ).stdout.split(" ", 1)
        self.assertGreater(int(message[0]), 50)
        self.assertEqual(message[1].strip(), "[]")

    def test_the_halves_are_told_in_words(self):
        for half in compile_tasks():
            self.assertEqual(len({task.words for task in half}), len(half))
