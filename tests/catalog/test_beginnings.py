"""Every beginning plays, shows something, and its remarks stand on rows that are there."""

from __future__ import annotations

import unittest

from kagero.core.beginnings import BEGINNINGS, begin
from kagero.core.catalog import check_effect, layout
from kagero.core.document import read_effect, write_effect
from kagero.core.errors import RequestError
from kagero.core.workflows import Playing


class Beginnings(unittest.TestCase):
    def test_each_plays_and_shows_something_for_most_of_its_clip(self):
        for key in BEGINNINGS:
            effect = begin(key)
            self.assertEqual(check_effect(effect), [], key)
            playing = Playing(effect)
            frames = range(effect.clip.first_frame, effect.clip.last_frame + 1, 5)
            counts = [sum(len(run.frame(number).population) for run in playing.runs) for number in frames]
            self.assertGreater(sum(count > 0 for count in counts), 0.7 * len(counts), key)
            self.assertLess(max(counts), 5000, key)

    def test_remarks_stand_on_rows_of_the_sheet(self):
        for key in BEGINNINGS:
            effect = begin(key)
            laid = layout(effect)["emitters"]
            for emitter in effect.emitters:
                here = {row["address"] for row in laid[emitter.uid]["rows"]} | {"births.place"}
                remarks = {remark.row for remark in emitter.sheet.remarks}
                self.assertEqual(remarks - here, set(), key)
                self.assertTrue(remarks or key == "empty", key)

    def test_each_is_written_and_read_as_it_is(self):
        for key in BEGINNINGS:
            self.assertEqual(read_effect(write_effect(begin(key))), begin(key))

    def test_one_that_is_not_there_is_told(self):
        with self.assertRaisesRegex(RequestError, "fireworks"):
            begin("fireworks")
