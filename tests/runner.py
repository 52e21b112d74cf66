"""Django's test runner: three processes by default, two of them for the browser; in the end how many passed, failed and
were skipped, and which took longest."""

from __future__ import annotations

import logging
import os
import pickle
import sys
import time
import traceback
import unittest
from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings as django_settings
from django.test import runner
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner
from hypothesis import Phase, settings

from kagero.core.workflows import compile_in_processes
from tests.soak import examples

SHRINKS = (
    "KAGERO_NO_SHRINKING" not in os.environ
)  # whoever only asks whether anything fails does not wait for the smallest example
settings.register_profile(
    "kagero",
    deadline=None,
    derandomize=True,
    max_examples=examples(100),
    phases=[phase for phase in Phase if SHRINKS or phase not in (Phase.shrink, Phase.explain)],
)
settings.load_profile("kagero")

NAMED = 20  # of the slowest tests
LANES = 2  # of journeys in the browser
took: list[tuple[float, str]] = []


def take_turns(result: unittest.TestResult, test: unittest.TestCase) -> None:
    """Fail a test that left threads of this process in real-time turns: all else on the machine would wait for whatever
    runs here later."""
    ahead = []
    for thread in os.listdir("/proc/self/task"):
        with suppress(OSError):  # it has ended
            if os.sched_getscheduler(int(thread)) != os.SCHED_OTHER:
                os.sched_setscheduler(int(thread), os.SCHED_OTHER, os.sched_param(0))
                ahead.append(thread)
    try:
        assert not ahead, f"{len(ahead)} threads were left in real-time turns"
    except AssertionError:
        result.addFailure(test, sys.exc_info())  # type: ignore[arg-type]


class Timed(unittest.TextTestResult):
    """Notes how long each test took, where all run in this process or the results of others come in."""

    def startTest(self, test: unittest.TestCase) -> None:
        self._started = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        take_turns(self, test)
        super().stopTest(test)
        took.append((getattr(self, "told", None) or time.perf_counter() - self._started, test.id()))


def sendable(error: Any) -> Any:
    """Return what a test failed with as another process can take it: as text where it holds something that cannot be
    sent, an open connection say."""
    try:
        pickle.loads(pickle.dumps(error))
    except Exception:
        words = "".join(traceback.format_exception(*error))
        return AssertionError, AssertionError(words), None
    return error


class RemoteTimed(RemoteTestResult):
    """In a process of its own: says with each test's end how long it took."""

    def addError(self, test: Any, err: Any) -> None:
        super().addError(test, sendable(err))

    def addFailure(self, test: Any, err: Any) -> None:
        super().addFailure(test, sendable(err))

    def addSubTest(self, test: Any, subtest: Any, err: Any) -> None:
        super().addSubTest(test, subtest, err and sendable(err))

    def startTest(self, test: unittest.TestCase) -> None:
        self._started = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        take_turns(self, test)
        super().stopTest(test)
        self.events[-1] = (*self.events[-1], time.perf_counter() - self._started)


class RemoteRunner(RemoteTestRunner):
    resultclass = RemoteTimed


def alone(*args: Any, **kwargs: Any) -> None:
    """Begin a process: it keeps its files in a folder of its own; only pictures of cards, known by their content, are
    made for all."""
    runner._init_worker(*args, **kwargs)
    cards = django_settings.DATA_DIR / "cards"
    django_settings.DATA_DIR = django_settings.DATA_DIR / f"process-{runner._worker_id}"
    for folder in (cards, django_settings.DATA_DIR):
        folder.mkdir(exist_ok=True)
    (django_settings.DATA_DIR / "cards").symlink_to(cards)


class Lane(unittest.TestSuite):
    """Journeys that one process makes, with one browser, which it closes in the end."""

    def run(self, result: unittest.TestResult, debug: bool = False) -> unittest.TestResult:
        try:
            return super().run(result, debug)
        finally:
            from tests.browser.stage import BROWSERS

            BROWSERS.close()


class Suite(ParallelTestSuite):
    runner_class = RemoteRunner
    init_worker = alone

    def __init__(self, subsuites: Any, *args: Any, **kwargs: Any):
        """The browser's journeys in two lanes, which often wait, each one after the other; all else beside them: about
        as long."""
        browser = [s for s in subsuites if type(next(iter(s))).__module__.startswith("tests.browser")]
        rest = [s for s in subsuites if s not in browser]
        journeys = [test for s in browser for test in s]
        lanes = [Lane(journeys[lane::LANES]) for lane in range(LANES)]
        super().__init__([s for s in (*lanes, *rest) if s.countTestCases()], *args, **kwargs)

    def handle_event(self, result: Any, tests: Any, event: Any) -> None:
        if event[0] == "stopTest":
            result.subtests_note, event = event[-1], event[:-1]
        super().handle_event(result, tests, event)


def share_of_tests() -> float:
    """Return which share of the lines of Kagero, its page and its tests are tests; what is generated counts for
    neither."""
    root = Path(__file__).parents[1]
    tests = [
        *(root / "tests").rglob("*.py"),
        *(root / "client/src/testing").glob("*.ts"),
        *(root / "client/src").rglob("*.test.ts"),
    ]
    page = [
        path
        for path in (root / "client/src").rglob("*")
        if path.suffix in (".ts", ".svelte") and "generated" not in path.name
    ]
    code = [path for path in [*(root / "kagero").rglob("*.py"), *page] if path not in set(tests)]
    lines = [sum(len(path.read_text().splitlines()) for path in paths) for paths in (tests, code)]
    return lines[0] / sum(lines)


class Runner(DiscoverRunner):
    parallel_test_suite = Suite

    def __init__(self, *args: Any, parallel: int = 0, **kwargs: Any):
        logging.getLogger("kagero").setLevel(logging.ERROR)  # refusals that tests ask for are no news
        # nobody is asked: a database that a killed run left is made anew
        super().__init__(*args, parallel=parallel or LANES + 1, **{**kwargs, "interactive": False})

    def setup_databases(self, **kwargs: Any) -> Any:
        """Make the copies of the test database after what its log still holds is written: a file is copied without its
        log."""
        if self.parallel > 1:
            compile_in_processes(
                lambda done, of, words: print(
                    f"compiling: {done} of {of}{', now ' + words if words else ''}", flush=True
                )
            )  # what all processes would else compile at once, each for itself
        processes, self.parallel = self.parallel, 0
        result = super().setup_databases(**kwargs)
        self.parallel = processes
        for connection, _, destroyed in result:
            if destroyed and processes > 1:
                connection.cursor().execute("PRAGMA wal_checkpoint(TRUNCATE)")
                for number in range(processes):
                    connection.creation.clone_test_db(
                        suffix=str(number + 1), verbosity=self.verbosity, keepdb=self.keepdb
                    )
        return result

    def get_resultclass(self) -> Any:
        return super().get_resultclass() or Timed

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        for seconds, name in sorted(took, reverse=True)[:NAMED]:
            print(f"{seconds:6.1f} s  {name}")
        if listed := os.environ.get("KAGERO_TIMES"):
            Path(listed).write_text(
                "".join(f"{seconds:8.2f}  {name}\n" for seconds, name in sorted(took, reverse=True))
            )
        rooms: dict[str, float] = {}
        for seconds, name in took:
            room = name.split(".")[1] if name.startswith("tests.") else name
            rooms[room] = rooms.get(room, 0) + seconds
        print(
            ", ".join(f"{room} {seconds:.0f} s" for room, seconds in sorted(rooms.items(), key=lambda each: -each[1]))
        )
        print(f"tests are {share_of_tests():.1%} of the lines")
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped", flush=True)
        return super().suite_result(suite, result, **kwargs)
