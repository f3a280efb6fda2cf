"""Django's test runner on every core, closing with one plain line of counts."""

from __future__ import annotations

import os
from typing import Any
from unittest import TestResult, TestSuite

from django.db import connections
from django.test import LiveServerTestCase
from django.test.runner import DiscoverRunner, ParallelTestSuite, partition_suite_by_case
from django.test.utils import iter_test_cases

GIVES_WAY = 10
"""The niceness of the processes that run no browser."""


class Behind(TestSuite):
    """Tests that give way: the browser's, one after the other, are the longest path through a run, and nobody waits for these before they end."""

    def run(self, result: TestResult, debug: bool = False) -> TestResult:
        """Run them at a low priority, which a process keeps."""
        os.nice(max(0, GIVES_WAY - os.nice(0)))
        return super().run(result, debug)


class Runner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` after the usual summary. With processes to spare the browser's tests run one after the other in a process
    of their own, beside those in which all others run: a browser waits for its server and its test half of the time, and two of them wait for each other."""

    def build_suite(self, *args: Any, **kwargs: Any) -> Any:
        """Return the browser's tests as one part and the others a class at a time, to be run in processes; in one process all in turn."""
        processes, self.parallel = self.parallel, 1
        tests = list(iter_test_cases(super().build_suite(*args, **kwargs)))
        browser = [test for test in tests if isinstance(test, LiveServerTestCase)]
        others = partition_suite_by_case(Behind(test for test in tests if not isinstance(test, LiveServerTestCase)))
        parts = [*([TestSuite(browser)] if browser else []), *others]
        self.parallel = min(processes, len(others)) + bool(browser) if processes > 1 and len(parts) > 1 else 0
        if self.parallel > 1:
            return ParallelTestSuite(parts, self.parallel, self.failfast, self.debug_mode, self.buffer)
        return TestSuite(tests)

    def setup_databases(self, **kwargs: Any) -> Any:
        """Make the database, write its log into it, then copy it: a copy of the file alone would lack what the log still holds."""
        processes, self.parallel = self.parallel, 0
        found = super().setup_databases(**kwargs)
        self.parallel = processes
        for connection in connections.all() if processes > 1 else ():
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            for n in range(processes):
                connection.creation.clone_test_db(suffix=str(n + 1), verbosity=self.verbosity, keepdb=self.keepdb)
        return found

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        return failed
