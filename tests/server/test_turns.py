"""Whose turn it is."""

from __future__ import annotations

import threading
import time
import unittest
from collections.abc import Callable
from unittest import mock

from django.test import SimpleTestCase

from kagero.core.document import read_effect
from kagero.core.errors import Cancelled
from kagero.core.workflows import PlayRequest
from kagero.server.frames import play, ready, runs
from kagero.server.frames import queueing as turns_module
from kagero.server.frames.queueing import FIRST, NEAR, REST, TurnQueue
from tests.making import document
from tests.making.server import post


def soon(holds: Callable[[], object], seconds: float = 10) -> None:
    """Wait until something holds. Raises AssertionError where it does not within so many seconds."""
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end, "it never came to that"
        time.sleep(0.001)


class Order(unittest.TestCase):
    def queue(self, turns: TurnQueue, kinds: list[int]) -> tuple[list[threading.Thread], list[int]]:
        """Let threads wait for turns of these kinds, in this order; return them and, as they get it, whose turn it
        was."""
        went: list[int] = []

        def wait(number: int, kind: int):
            with turns.turn(kind, lambda: None):
                went.append(number)

        threads = []
        for number, kind in enumerate(kinds):
            thread = threading.Thread(target=wait, args=(number, kind), daemon=True)
            thread.start()
            threads.append(thread)
            soon(lambda number=number: len(turns._waiting) == number + 1)
        return threads, went

    def test_first_pictures_go_before_all_else_and_the_rest_in_order(self):
        turns = TurnQueue(1)
        with turns.turn(REST, lambda: None):
            threads, went = self.queue(turns, [REST, NEAR, FIRST, REST, FIRST])
        for thread in threads:
            thread.join(10)
        self.assertEqual(went, [2, 4, 1, 0, 3])

    def test_the_rest_leaves_a_core_for_a_first_picture_and_does_not_slow_it_down_but_is_never_starved(self):
        turns = TurnQueue(2)
        with turns.turn(REST, lambda: None):
            threads, went = self.queue(turns, [REST])
            with turns.turn(FIRST, lambda: None):
                self.assertEqual(went, [])
        threads[0].join(10)
        self.assertEqual(went, [0])
        with mock.patch.object(turns_module, "STARVED_AFTER", 1e9), turns.turn(FIRST, lambda: None):
            threads, went = self.queue(turns, [REST, NEAR])
            time.sleep(0.3)
            self.assertEqual(went, [])
            with mock.patch.object(turns_module, "STARVED_AFTER", 0.0):
                for thread in threads:
                    thread.join(10)
        self.assertEqual(went, [1, 0])

    def test_who_is_gone_waits_no_longer_and_holds_up_nobody(self):
        turns = TurnQueue(1)
        gone = threading.Event()

        def ask():
            if gone.is_set():
                raise Cancelled()

        def wait():
            with self.assertRaises(Cancelled), turns.turn(FIRST, ask):
                raise AssertionError("it had its turn")

        with turns.turn(REST, lambda: None):
            leaver = threading.Thread(target=wait, daemon=True)
            leaver.start()
            soon(lambda: turns._waiting)
            gone.set()
            leaver.join(10)
        self.assertEqual((turns._waiting, turns._busy), ([], [0, 0, 0]))

    def test_a_fault_within_gives_the_turn_back(self):
        turns = TurnQueue(1)
        for _ in range(3):
            with self.assertRaises(ZeroDivisionError), turns.turn(FIRST, lambda: None):
                _ = 1 / 0
        self.assertEqual(turns._busy, [0, 0, 0])


class Streams(SimpleTestCase):
    def test_more_players_than_there_are_threads_for_are_told_so_and_come_in_when_one_leaves(self):
        effect = ready(read_effect(document()))
        with (
            mock.patch.object(runs, "_streams", threading.BoundedSemaphore(2)),
            mock.patch.object(runs, "PATIENT", 0.05),
        ):
            playing = [play(effect, f"w{k}", 0, PlayRequest(), lambda: False) for k in range(2)]
            for each in playing:
                next(each)
            answer = post("play", {"window": "w3", "document": document(), "now": 0})
            self.assertEqual((answer.status_code, answer.json()["findings"][0]["code"]), (503, "busy"))
            playing[0].close()
            self.assertEqual(
                post("play", {"window": "w3", "document": document(), "now": 0, "whole": False}).status_code, 200
            )
            playing[1].close()
