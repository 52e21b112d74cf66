"""Every fault that the tests were proved by still applies where it says."""

from __future__ import annotations

import unittest

from tests.faults import FAULTS, ROOT, Fault, span


class Faults(unittest.TestCase):
    def test_each_stands_once_where_it_says_and_changes_something(self):
        for fault in FAULTS:
            with self.subTest(f"{fault.file} {fault.function}"):
                start, end = span(fault)
                self.assertEqual((ROOT / fault.file).read_text()[start:end], fault.search)
                self.assertNotEqual(fault.search, fault.replacement)

    def test_one_that_no_longer_applies_is_told(self):
        first = FAULTS[0]
        for function, search in (("no_such_function", first.search), (first.function, "no such text")):
            with self.assertRaises(ValueError):
                span(Fault(first.file, function, search, "", ""))
