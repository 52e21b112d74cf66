"""The tree's arrows (docs/ARCHITECTURE.md), and the error codes, as they are enforced."""

from __future__ import annotations

import subprocess
import sys
import unittest
from pathlib import Path

from kagero.core import errors

ROOT = Path(__file__).parents[2]


class Architecture(unittest.TestCase):
    def test_import_contracts_are_kept(self):
        linter = Path(sys.executable).with_name("lint-imports")
        result = subprocess.run([linter, "--no-cache"], cwd=ROOT, capture_output=True, text=True)
        self.assertEqual(result.returncode, 0, result.stdout)

    def test_no_module_is_a_catch_all_and_none_is_too_long(self):
        for path in (ROOT / "kagero").rglob("*.py"):
            self.assertNotIn(path.stem, {"utils", "common", "helpers", "manager", "misc"})
            self.assertLess(len(path.read_text().splitlines()), 500, path)

    def test_every_error_has_its_own_code_and_is_documented(self):
        text = (ROOT / "docs" / "ENGINE.md").read_text()
        kinds = [k for k in vars(errors).values() if isinstance(k, type) and issubclass(k, errors.KageroError)]
        self.assertEqual(len({k.code for k in kinds}), len(kinds))
        for kind in kinds:
            self.assertIn(f"`{kind.code}`", text)

    def test_the_core_runs_without_django(self):
        code = "import sys, kagero.core.workflows, kagero.core.__main__; sys.exit('django' in sys.modules)"
        self.assertEqual(subprocess.run([sys.executable, "-c", code], cwd=ROOT).returncode, 0)
