"""What Numba compiled is kept for one state of the kernels alone."""

from __future__ import annotations

import importlib
import pkgutil
import shutil
import tempfile
import unittest
from pathlib import Path

import numba

from kagero.core import kernels
from kagero.core.kernels import compiled
from kagero.core.workflows import ready


class Ready(unittest.TestCase):
    def test_what_is_compiled_when_it_is_called_is_compiled_beforehand(self):
        """Kernels without signatures, but those that are written into others: no effect waits for one."""
        ready()
        modules = [importlib.import_module(f"{kernels.__name__}.{each.name}") for each in pkgutil.iter_modules(kernels.__path__)]
        lazy = {f"{module.__name__}.{name}": each for module in modules for name, each in vars(module).items()
                if hasattr(each, "signatures") and not name.startswith("_") and each.targetoptions.get("inline") != "always"}  # fmt: skip
        self.assertGreater(len(lazy), 20)
        self.assertEqual([name for name, each in lazy.items() if not each.signatures], [])


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.addCleanup(setattr, numba.config, "CACHE_DIR", numba.config.CACHE_DIR)

    def test_any_kernels_text_makes_another_state(self):
        states = {compiled.state()}
        for path in sorted(compiled.SOURCES.glob("*.py")):
            copied = self.folder / path.stem
            shutil.copytree(compiled.SOURCES, copied, ignore=shutil.ignore_patterns("__pycache__"))
            self.assertEqual(compiled.state(copied), compiled.state())
            (copied / path.name).write_text(path.read_text() + "# another\n")
            states.add(compiled.state(copied))
        self.assertEqual(len(states), 1 + len(list(compiled.SOURCES.glob("*.py"))))

    def test_the_folder_is_made_and_those_of_earlier_states_go(self):
        (self.folder / "kernels-0123456789abcdef").mkdir()
        kept = compiled.keep(self.folder)
        self.assertEqual([each.name for each in self.folder.iterdir()], [kept.name])
        self.assertEqual(numba.config.CACHE_DIR, str(kept))

    def test_where_nothing_can_be_written_nothing_is_kept(self):
        before = numba.config.CACHE_DIR
        (self.folder / "file").write_text("in the way")
        compiled.keep(self.folder / "file")
        self.assertEqual(numba.config.CACHE_DIR, before)
