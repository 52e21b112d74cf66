"""Kernels that are compiled beside serving: what is told of it, and who waits for it."""

from __future__ import annotations

import gc
import json
import tempfile
import threading
from pathlib import Path
from unittest import mock

from django.test import Client, TestCase

from kagero.core.beginnings import begin
from kagero.core.errors import Cancelled
from kagero.server.frames import WARMING, card, warm_up
from kagero.server.jobs import cleanup
from kagero.server.settings import serving


class Beside(TestCase):
    def asked(self) -> dict:
        return json.loads(Client().get("/api/warming").content)

    def test_it_is_told_before_the_first_page_asks_and_no_more_when_all_is_compiled(self):
        nothing = {"done": 0, "of": 0, "words": ""}
        self.assertEqual(self.asked(), nothing)
        seen = []

        def compiles(reported, niceness):
            seen.append(self.asked())
            reported(3, 31, "contacts")
            seen.append(self.asked())

        with (
            mock.patch.object(warm_up, "all_compiled", return_value=False),
            mock.patch.object(warm_up, "compile_in_processes", compiles),
        ):
            WARMING.compile()
        self.assertEqual(seen, [{"done": 0, "of": 1, "words": "kernels"}, {"done": 3, "of": 31, "words": "contacts"}])
        self.assertEqual(self.asked(), nothing)
        with mock.patch.object(warm_up, "all_compiled", return_value=True):
            WARMING.announce()
        self.assertEqual(self.asked(), nothing)

    def test_cards_wait_for_it_and_give_up_when_nobody_waits_for_them(self):
        asked = threading.Event()

        def gone() -> bool:
            asked.set()
            return True

        with mock.patch.object(warm_up, "all_compiled", return_value=False):
            WARMING.announce()
        try:
            effect = begin("sparks")
            effect.note = "No other test makes a card of this: all keep them on the same disk."
            with self.assertRaises(Cancelled):
                card(effect, gone)
            self.assertTrue(asked.is_set())
        finally:
            WARMING.over.set()
            WARMING.tell(0, 0, "")

    def test_what_fails_beside_serving_is_logged_and_everything_else_goes_on(self):
        """A first sweep that fails keeps nothing from being compiled, and is tried again."""
        done: list[str] = []

        def sweep(*, starting: bool = False) -> None:
            done.append("sweep")
            if len(done) < 4:
                raise OSError("No space left on device")

        class Ended(BaseException):
            pass

        def sleep(seconds: float) -> None:
            if done.count("sweep") == 3:
                raise Ended
            done.append("slept")

        with (
            mock.patch.object(cleanup, "sweep", autospec=True, side_effect=sweep),
            mock.patch.object(WARMING, "compile", lambda: done.append("compiled")),
            mock.patch.object(serving.time, "sleep", sleep),
            tempfile.TemporaryDirectory() as empty,
            self.settings(DEMO_DIR=Path(empty)),
            mock.patch.object(gc, "freeze"),
            self.assertLogs("kagero", "ERROR") as logged,
            self.assertRaises(Ended),
        ):
            serving._beside()
        self.assertEqual(done, ["sweep", "compiled", "slept", "sweep", "slept", "sweep"])
        self.assertIn("No space left on device", logged.output[0])
