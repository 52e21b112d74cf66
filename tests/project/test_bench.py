"""The benchmark suite compares its figures with their bounds, and names those that are out of them."""

import io
import json
import os
import tempfile
from contextlib import redirect_stdout
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from bench.__main__ import PARTS, conclude
from bench.bounds import RECORD, SLOWER, within

BENCH = Path(__file__).parents[2] / "bench"


class Bounds(TestCase):
    def compared(self, slower: float) -> list[dict[str, object]]:
        with tempfile.TemporaryDirectory() as folder:
            record = Path(folder) / "figures"
            with patch.dict(os.environ, {RECORD: str(record), SLOWER: str(slower)}):
                within("an edit", 40.0, most=60)
                within("two threads", 2.0, least=1.7, unit="times")
            return [json.loads(line) for line in record.read_text().splitlines()]

    def test_a_figure_out_of_its_bound_is_marked_where_it_is_printed(self):
        self.assertEqual(within("an edit", 60.0, most=60), "")
        self.assertIn("at most 60 ms", within("an edit", 60.1, most=60))
        self.assertIn("at least 1.7 times", within("two threads", 1.69, least=1.7, unit="times"))
        with self.assertRaises(ValueError):
            within("an edit", 60.0)

    def test_figures_out_of_bounds_are_named_at_the_end_and_the_deliberate_fault_is_found(self):
        for slower, out in ((1.0, 0), (1.5, 1), (2.0, 2)):
            message = io.StringIO()
            with redirect_stdout(message), patch("bench.__main__.yardstick", return_value=0.75):
                code = conclude(self.compared(slower), [], 12.0)
            self.assertEqual(
                (code, f"{out} out of bounds" in message.getvalue()), (int(out > 0), True), message.getvalue()
            )
            self.assertEqual("two threads: 1 times; bound: at least 1.7 times" in message.getvalue(), slower == 2.0)

    def test_a_part_that_fails_is_named_and_every_part_is_there(self):
        message = io.StringIO()
        with redirect_stdout(message), patch("bench.__main__.yardstick", return_value=0.75):
            self.assertEqual(conclude([], ["motion"], 1.0), 1)
        self.assertIn("motion ended with an error", message.getvalue())
        for part in PARTS:
            self.assertIn("def main()", (BENCH / f"{part}.py").read_text(), part)
