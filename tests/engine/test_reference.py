"""The reference engine holds every law and example by itself: what native is compared with is checked against the
outside too."""

from __future__ import annotations

import io
import unittest

from kagero.core.engine import REFERENCE, use_engine
from tests.soak import SOAK, share

MODULES = [
    "tests.laws.test_same_effect_same_result",
    "tests.published.test_motion",
    "tests.catalog.test_mapping",
    "tests.catalog.test_pieces",
]
# tests that play hundreds of effects to see that they play: once is enough
ENOUGH = {
    "test_every_source_in_the_list_drives_every_row_or_says_why_not",
    "test_every_row_of_a_rich_emitter_goes_to_another_effect",
    "test_whatever_the_clipboard_holds_nothing_but_a_clear_refusal_comes_of_it",
}


def generated(test: unittest.TestCase) -> bool:
    """Return whether hypothesis runs a test: it allows one run of each only."""
    return hasattr(getattr(test, test._testMethodName), "hypothesis")


class ReferenceEngine(unittest.TestCase):
    def test_all_laws_and_examples_hold_on_it_too(self):
        suite = unittest.TestSuite()
        for group in unittest.defaultTestLoader.loadTestsFromNames(MODULES):
            for case in group:
                suite.addTests(test for test in case if test._testMethodName not in ENOUGH and not generated(test))
        suite = unittest.TestSuite(share(suite, 2))
        with use_engine(REFERENCE):
            result = unittest.TextTestRunner(io.StringIO()).run(suite)
        self.assertGreater(result.testsRun, 50 if SOAK else 25)
        self.assertEqual([str(test) for test, _ in [*result.failures, *result.errors]], [])
