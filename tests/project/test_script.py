"""How much script a visit loads: the limits of docs/ARCHITECTURE.md, over what was built."""

from __future__ import annotations

import gzip
import json
import unittest
from typing import Any

from django.conf import settings

KILOBYTES = {"src/library/Library.svelte": 150, "src/pages/Desk.svelte": 400}
IN_ALL = 650


class Sizes(unittest.TestCase):
    def setUp(self) -> None:
        path = settings.CLIENT_DIR / ".vite" / "manifest.json"
        if not path.exists():
            raise unittest.SkipTest("run `make setup`: the built client is missing")
        self.manifest: dict[str, Any] = json.loads(path.read_text())

    def size(self, names: set[str]) -> float:
        """Return kilobytes of some chunks, gzipped."""
        files = {self.manifest[name]["file"] for name in names}
        return (
            sum(len(gzip.compress((settings.CLIENT_DIR / file).read_bytes())) for file in files if file.endswith(".js"))
            / 1000
        )

    def loaded(self, *names: str) -> set[str]:
        """Return chunks with all that they import at once."""
        found: set[str] = set()
        waiting = list(names)
        while waiting:
            name = waiting.pop()
            if name not in found:
                found.add(name)
                waiting += self.manifest[name].get("imports", [])
        return found

    def test_the_library_and_the_first_desk_are_within_their_limits_and_all_of_it(self):
        entry = next(name for name, chunk in self.manifest.items() if chunk.get("isEntry"))
        for page, limit in KILOBYTES.items():
            self.assertLess(self.size(self.loaded(entry, page)), limit, page)
        self.assertLess(self.size(set(self.manifest)), IN_ALL)
        # what writes formulas is no part of the first Desk, and the stage is no part of the Library
        self.assertNotIn("src/formula/FormulaEditor.svelte", self.loaded(entry, "src/pages/Desk.svelte"))
