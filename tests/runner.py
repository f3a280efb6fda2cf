"""Django's test runner, closing with one plain line of counts."""

from __future__ import annotations

from typing import Any

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` after the usual summary."""

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        return failed
