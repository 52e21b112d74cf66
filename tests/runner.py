"""Django's test runner; in the end it says how many tests passed, failed and were skipped."""

from __future__ import annotations

from typing import Any

from django.test.runner import DiscoverRunner
from hypothesis import settings

settings.register_profile("kagero", deadline=None, derandomize=True)
settings.load_profile("kagero")


class Runner(DiscoverRunner):
    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped", flush=True)
        return super().suite_result(suite, result, **kwargs)
