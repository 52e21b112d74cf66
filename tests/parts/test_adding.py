"""The worked examples of docs/ADDING.md, put into a copy of the tree as they stand there; and its table."""

from __future__ import annotations

import importlib
import os
import pkgutil
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path

import kagero.core.parts as parts
import kagero.core.workflows  # noqa: F401 (its import finds the modules of all kinds)
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.parts.deeds import DEEDS
from kagero.core.rows.union import OpenUnion

ROOT = Path(__file__).parents[2]
PAGE = ROOT / "docs/ADDING.md"
FILE = re.compile(r"^`([\w/.]+)`:\n\n```\w+\n(.*?)^```$", re.MULTILINE | re.DOTALL)
LISTED = re.compile(r'^In `([\w/.]+)`: `("\w+")` after `("\w+")`', re.MULTILINE)
STAGE = "client/src/stage"


def rooms() -> Iterator[tuple[str, list[str], list[str]]]:
    """Yield each room, the kinds in its list, in order, and the packages that have modules of their names."""
    for room in sorted(each.name for each in pkgutil.iter_modules(parts.__path__)):
        loaded = importlib.import_module(f"{parts.__name__}.{room}")
        for union in [each for each in vars(loaded).values() if isinstance(each, OpenUnion)][-1:]:
            yield f"parts/{room}", [tag for tag in union.kinds if tag not in union.nested], union.namesake_packages()
    yield "parts/deeds", [deed.__module__.rpartition(".")[2] for deed in DEEDS], []
    yield "formats/exporters", list(EXPORTERS), []


def table() -> str:
    """Return the table of the page: rooms, their kinds, and where some of them have further modules."""
    rows = []
    for room, kinds, packages in rooms():
        further = [each.removeprefix("kagero.core.").replace(".", "/") for each in packages]
        stage = {path.parent.name for kind in kinds if packages for path in (ROOT / STAGE).glob(f"*/{kind}.ts")}
        further += [f"{STAGE}/{folder}" for folder in sorted(stage)]
        rows.append(f"| `{room}` | {', '.join(kinds)} | {', '.join(f'`{each}`' for each in further)} |")
    return "\n".join(rows)


class Page(unittest.TestCase):
    def test_its_table_lists_every_room_and_kind(self):
        (found,) = re.findall(r"^\| room \|.*?\n\|---.*?\n(.*?)\n\n", PAGE.read_text(), re.MULTILINE | re.DOTALL)
        self.assertEqual(found, table(), "The table is to be:\n" + table())

    def test_its_examples_are_found_everywhere_without_any_other_edit(self):
        text = PAGE.read_text()
        files, listed = FILE.findall(text), LISTED.findall(text)
        self.assertGreaterEqual(len(files), 12)
        with tempfile.TemporaryDirectory() as folder:
            tree = Path(folder)
            shutil.copytree(ROOT / "kagero/core", tree / "kagero/core", ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(ROOT / "kagero/__init__.py", tree / "kagero/__init__.py")
            shutil.copytree(ROOT / "client", tree / "client", ignore=shutil.ignore_patterns("node_modules", "dist"))
            (tree / ".venv").symlink_to(ROOT / ".venv")
            (tree / "client/node_modules").symlink_to(ROOT / "client/node_modules")
            for path, code in files:
                self.assertFalse((tree / path).exists(), f"{path} is there already")
                (tree / path).write_text(code)
            for path, name, before in listed:
                lines = (tree / path).read_text()
                self.assertEqual(lines.count(before), 1, path)
                (tree / path).write_text(lines.replace(before, f"{before}, {name}"))
            core = self.run_in(tree, [sys.executable, str(Path(__file__).with_name("added_kinds.py"))])
            (tree / STAGE / "added.test.ts").write_text(STAGE_TEST)
            stage = self.run_in(tree / "client", ["npx", "vitest", "run", "--root", ".", "src/stage/added.test.ts"])
        self.assertEqual(core.returncode, 0, core.stdout + core.stderr)
        self.assertEqual(stage.returncode, 0, stage.stdout + stage.stderr)

    def run_in(self, folder: Path, command: list[str]) -> subprocess.CompletedProcess[str]:
        here = {**os.environ, "PYTHONPATH": os.pathsep.join([str(folder), str(ROOT)])}
        return subprocess.run(command, cwd=folder, env=here, capture_output=True, text=True, timeout=300)


STAGE_TEST = """
import { expect, test } from 'vitest'
import { FINISHES } from './finishing'
import { LOOKS } from './particlelayer'

test('added kinds are found by their names', () => {
  expect(Object.keys(FINISHES)).toContain('ceiling')
  expect(Object.keys(LOOKS)).toContain('bead')
})
"""
