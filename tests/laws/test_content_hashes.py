"""Content hashes of an effect are the same in every process: what is kept under them is found again."""

from __future__ import annotations

import os
import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2]


def hashes() -> list[str]:
    """Return the hashes of every demo effect's emitters, and of emitters that have every row there is."""
    from kagero.core.document import read_effect
    from kagero.core.help import made_up
    from kagero.core.help.scenes import candidates
    from kagero.core.workflows import Playing

    demo = [read_effect(path.read_bytes()) for path in sorted((ROOT / "demo/effects").glob("*.json"))]
    found = []
    for effect in [*demo, *(read_effect(each) for each in candidates())]:
        plan = Playing(effect, content=made_up).plan
        found += [f"{effect.name} {each.simulated} {each.looked} {each.shaped}" for each in plan.emitters]
    return found


class Hashes(unittest.TestCase):
    def test_they_depend_on_no_order_of_sets(self):
        """Python orders the members of a set of texts by a seed that each process draws anew."""
        command = [
            sys.executable,
            "-c",
            "from tests.laws.test_content_hashes import hashes; print(*hashes(), sep='\\n')",
        ]
        runs = [
            subprocess.Popen(
                command, cwd=ROOT, env={**os.environ, "PYTHONHASHSEED": seed}, stdout=subprocess.PIPE, text=True
            )
            for seed in ("1", "2")
        ]
        one, two = (run.communicate(timeout=300)[0].splitlines() for run in runs)
        self.assertGreater(len(one), 100)
        self.assertEqual(one, two)


if __name__ == "__main__":
    unittest.main()
